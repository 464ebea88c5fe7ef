const kept = new Map<string, string>();
let theme = "";

/** A role's colour in the theme that is on, as a value for a canvas. */
export function inkOf(role: string): string {
  const root = document.documentElement;
  if (root.className !== theme) {
    kept.clear();
    theme = root.className;
  }
  let ink = kept.get(role);
  if (ink === undefined) {
    const name = `--chakra-colors-${role.replace(/[A-Z]/g, (c) => `-${c.toLowerCase()}`)}`;
    ink = getComputedStyle(root).getPropertyValue(name).trim();
    kept.set(role, ink);
  }
  return ink;
}
