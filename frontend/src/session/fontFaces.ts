import type { Facts } from "../api/client";

const named = (family: string) => `Scene ${family}`;
/** Letters of scripts that the page's own font has not; signs and arrows stay its own. */
const SCRIPTS = "U+370-1FFF, U+2C60-2DFF, U+2E80-D7FF, U+F900-FFFD, U+10000-1FFFF";
/** How many families its names and fields are written with at most. */
const MOST = 11;
let known = false;

/** Tell the page of all families; the browser has a file come when a letter of it is first written. Names and fields are
 * written with them, too, where the page's own font has not their letters. */
export function tellFonts(facts: Facts) {
  if (known) return;
  known = true;
  const others = facts.fallbacks.slice(0, MOST);
  for (const { name, files } of facts.fonts.filter(({ name }) => others.includes(name)))
    for (const { address, italic, weights } of files)
      if (!italic)
        document.fonts.add(
          new FontFace(`Script ${name}`, `url(${address})`, { weight: weights.join(" "), unicodeRange: SCRIPTS }),
        );
  const list = others.map((name) => `"Script ${name}"`).join(", ");
  document.documentElement.style.setProperty("--scripts", list);
  tellFamilies(facts.fonts);
}

const told = new Set<string>();

/** Tell the page of families; those of a project come when they are added. */
export function tellFamilies(families: Facts["fonts"]) {
  for (const { name, files } of families)
    for (const { address, italic, weights } of files) {
      if (told.has(address)) continue;
      told.add(address);
      document.fonts.add(
        new FontFace(named(name), `url(${address})`, {
          style: italic ? "italic" : "normal",
          weight: weights.join(" "),
        }),
      );
    }
}

/** What a text is written with on the page: the very files that the picture is shaped with, in the order in which its
 * letters are looked for. */
export function facesOf(family: string, facts: Facts): string {
  tellFonts(facts);
  const own = facts.fonts.find((font) => font.name === family);
  const first = own?.kinds.includes("serif") ? ["Noto Serif"] : [];
  return [...new Set([...(own ? [family] : []), ...first, ...facts.fallbacks])]
    .map((name) => `"${named(name)}"`)
    .join(", ");
}
