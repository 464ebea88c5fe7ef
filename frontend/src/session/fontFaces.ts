import type { Facts } from "../api/client";

const named = (family: string) => `Scene ${family}`;
let known = false;

/** Tell the page of all families; the browser has a file come when a letter of it is first written. */
function tell(facts: Facts) {
  if (known) return;
  known = true;
  for (const { name, files } of facts.fonts)
    for (const { address, italic, weights } of files)
      document.fonts.add(
        new FontFace(named(name), `url(${address})`, {
          style: italic ? "italic" : "normal",
          weight: weights.join(" "),
        }),
      );
}

/** What a text is written with on the page: the very files that the picture is shaped with, in the order in which its
 * letters are looked for. */
export function facesOf(family: string, facts: Facts): string {
  tell(facts);
  const own = facts.fonts.find((font) => font.name === family);
  const first = own?.kinds.includes("serif") ? ["Noto Serif"] : [];
  return [...new Set([...(own ? [family] : []), ...first, ...facts.fallbacks])]
    .map((name) => `"${named(name)}"`)
    .join(", ");
}
