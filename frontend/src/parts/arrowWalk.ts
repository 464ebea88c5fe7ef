import { focusByKeys } from "./focus";

const WAYS: Record<string, [number, number]> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, -1],
  ArrowDown: [0, 1],
};

/** The control that lies nearest in the way of an arrow, seen from one of a group; Home and End lead to its ends. */
export function inTheWay(controls: HTMLElement[], from: HTMLElement, key: string): HTMLElement | null {
  if (key === "Home") return controls[0] ?? null;
  if (key === "End") return controls.at(-1) ?? null;
  const way = WAYS[key];
  if (!way) return null;
  const middle = (one: HTMLElement): [number, number] => {
    const { left, top, width, height } = one.getBoundingClientRect();
    return [left + width / 2, top + height / 2];
  };
  const [x, y] = middle(from);
  let best: HTMLElement | null = null;
  let least = Number.POSITIVE_INFINITY;
  for (const one of controls) {
    const [u, v] = middle(one);
    const along = (u - x) * way[0] + (v - y) * way[1];
    const across = Math.abs((u - x) * way[1]) + Math.abs((v - y) * way[0]);
    if (one === from || along < 1 || along + 3 * across >= least) continue;
    best = one;
    least = along + 3 * across;
  }
  return best;
}

/** Let the arrows go from control to control of a group; `chosen` hears where they come to. */
export function walkByArrows(event: React.KeyboardEvent<HTMLElement>, chosen?: (control: HTMLElement) => void) {
  const from = event.target instanceof HTMLElement ? event.target.closest<HTMLElement>("button, [role=radio]") : null;
  if (!from || event.ctrlKey || event.metaKey || event.altKey) return;
  const all = [...event.currentTarget.querySelectorAll<HTMLElement>("button, [role=radio]")];
  const controls = all.filter((one) => !one.matches(":disabled") && one.checkVisibility());
  const next = inTheWay(controls, from, event.key);
  if (!next && !WAYS[event.key]) return;
  event.preventDefault();
  event.stopPropagation();
  if (!next) return;
  focusByKeys(next);
  chosen?.(next);
}
