const focusable = "a[href], button:not([disabled]), input:not([disabled]), select:not([disabled]), textarea:not([disabled]), summary, [tabindex]:not([tabindex='-1'])";

/** What had the focus, and around it what it stood in, each with its place in that. */
let trail: { element: Element; place: number; before: Element | null }[] = [];

function remember(e: FocusEvent) {
  trail = [];
  for (let n = e.target as Element | null; n && n !== document.body; n = n.parentElement) trail.push({ element: n, place: [...(n.parentElement?.children ?? [])].indexOf(n), before: n.previousElementSibling });
}

const into = (n: Element | null | undefined): HTMLElement | undefined => {
  if (!n?.isConnected) return undefined;
  return (n.matches(focusable) ? n : n.querySelector(focusable)) as HTMLElement | undefined ?? undefined;
};

/** Where the focus goes once what had it is gone: what stands in its place, or else what is next to it or around it. */
function heir(): HTMLElement | undefined {
  const gone = trail.findLastIndex((t) => !t.element.isConnected);
  const lost = trail[gone];
  const around = trail[gone + 1]?.element;
  if (!lost || around?.id === "root") return undefined;
  return into(around?.children[lost.place]) ?? into(lost.before) ?? into(around);
}

/** The page's own place to begin at. */
function main(): HTMLElement | null {
  const m = document.querySelector<HTMLElement>("main, [data-main]");
  if (m && !m.hasAttribute("tabindex")) m.tabIndex = -1;
  return m;
}

/**
 * Keeps the focus on the page: where what had it is taken away (a field that was only there for a name, a row that was deleted, a
 * page that was left), it goes to what is nearest, and not to nowhere.
 */
export function keepFocus() {
  addEventListener("focusin", remember);
  let due = false;
  new MutationObserver(() => {
    if (due || trail.length === 0 || trail[0]?.element.isConnected) return;
    due = true;
    // Who takes something away may say itself where the focus goes: it is asked for first.
    setTimeout(() => {
      due = false;
      if (trail[0]?.element.isConnected || (document.activeElement && document.activeElement !== document.body)) return;
      const to = heir() ?? main();
      trail = [];
      to?.focus({ preventScroll: true });
    }, 30);
  }).observe(document.body, { childList: true, subtree: true });
}
