import { createGlobalStyle } from "styled-components";

/** Neutral greys only: the one colour on the screen is the work's. */
export const GlobalStyle = createGlobalStyle`
  :root {
    --ink: #141414; --ink2: #4a4a4a; --ink3: #6b6b6b; --paper: #f0f0f0; --card: #fafafa; --rule: #d3d3d3; --white: #fff;
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
  :focus-visible, [data-focus-visible] { outline: 2px solid var(--ink); outline-offset: 2px; }
  .num { font: 11.5px/1.35 var(--figures); font-variant-numeric: tabular-nums; }
  @page { margin: 12mm; }
  @media print { body { background: #fff; } html, body, #root { height: auto; } }
  @media (prefers-reduced-motion: reduce) { *, *::before, *::after { transition: none !important; animation: none !important; } }
`;
