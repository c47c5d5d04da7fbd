/** The colours that were chosen last, in this browser, the newest first. */
const key = "episema.recent-colours";
const most = 5;

export function recentColours(): string[] {
  try {
    const list: unknown = JSON.parse(localStorage.getItem(key) ?? "[]");
    return Array.isArray(list) ? list.filter((c): c is string => typeof c === "string" && c.length <= 100).slice(0, most) : [];
  } catch {
    return []; // without storage, or with something else in it, there are none
  }
}

export function chose(css: string) {
  try {
    localStorage.setItem(key, JSON.stringify([css, ...recentColours().filter((c) => c !== css)].slice(0, most)));
  } catch {
    // no storage: nothing is remembered
  }
}
