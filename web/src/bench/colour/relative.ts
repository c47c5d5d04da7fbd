/** Whether a colour starts from the thing's own: currentcolor, oklch(from currentcolor l c h). The server reads it. */
export const isRelative = (css: string): boolean => /^\s*currentcolor\s*$|\(\s*from\s/i.test(css);
