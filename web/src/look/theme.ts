import { createGlobalStyle } from "styled-components";

/** Neutral greys only: the one colour on the screen is the work's. */
export const GlobalStyle = createGlobalStyle`
  :root {
    --ink: #141414; --ink2: #4a4a4a; --ink3: #6b6b6b; --paper: #f0f0f0; --card: #fafafa; --rule: #d3d3d3; --edge: #858585; --white: #fff;
    --stage: #8a8a8a; --rail: #e6e6e6; --round: 7px;
    --words: "Instrument Sans Variable", sans-serif;
    --figures: "Spline Sans Mono Variable", monospace;
    color-scheme: light;
  }
  *, *::before, *::after { box-sizing: border-box; }
  html, body, #root { height: 100%; margin: 0; }
  body { background: var(--paper); color: var(--ink); font: 13px/1.35 var(--words); -webkit-font-smoothing: antialiased; }
  h1, h2, h3, p { margin: 0; }
  h1 { font-size: 21px; font-weight: 680; font-stretch: 88%; letter-spacing: -0.01em; }
  h2 { font-size: 12px; font-weight: 650; font-stretch: 92%; }
  button, input { font: inherit; color: inherit; }
  a { color: inherit; text-decoration: none; }
  nav h1 { display: inline; font: inherit; font-weight: 600; letter-spacing: 0; color: var(--ink); }
  :focus-visible, [data-focus-visible] { outline: 2px solid var(--ink); outline-offset: 2px; }
  .num { font: 11.5px/1.35 var(--figures); font-variant-numeric: tabular-nums; }
  /* Where the system sets all colours, what is chosen is told by the system's own, and the work keeps its colours. */
  @media (forced-colors: active) {
    canvas, img, svg, [data-paint] { forced-color-adjust: none; }
    [role=radio][data-selected], [role=tab][data-selected], button[aria-pressed=true], button[data-selected], [aria-current=true], [role=gridcell]:focus { forced-color-adjust: none; background: Highlight !important; color: HighlightText !important; outline: 1px solid Highlight; }
    [aria-current=true] *, [data-selected] *, button[aria-pressed=true] * { color: HighlightText !important; }
    [data-track]::before { forced-color-adjust: none; background: GrayText !important; }
    [data-fill] { forced-color-adjust: none; background: Highlight !important; }
    label[data-selected]::before { forced-color-adjust: none; background: Highlight !important; border-color: Highlight !important; }
    button, input, select { border: 1px solid ButtonBorder; }
  }
  @page { margin: 12mm; }
  @media print { body { background: #fff; } html, body, #root { height: auto; } }
  @media (prefers-reduced-motion: reduce) { *, *::before, *::after { transition: none !important; animation: none !important; } }
`;
