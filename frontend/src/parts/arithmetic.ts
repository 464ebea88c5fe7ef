/** What was typed into a number: a value, or a step from the value that is there. */
export interface Typed {
  way: "set" | "add" | "multiply";
  value: number;
}

/** What may stand after a number, and the spaces that part thousands. */
const UNIT = /\s*(px|%|°|deg|‰|em|×|fps|dB)$/i;
const THOUSANDS = /(?<=\d)[\s\u00a0\u2009\u202f'’](?=\d{3}(?!\d))/g;
const COMMAS = /^[+*/]?-?[1-9]\d{0,2}(,\d{3})+(\.\d+)?$/;

/** A number as it may be written by hand, `1 000 px` or `1,000` or `0,5`, as a plain one. */
function plain(text: string): string {
  const bare = text.trim().replace(UNIT, "").replace(THOUSANDS, "");
  return COMMAS.test(bare) ? bare.replaceAll(",", "") : bare.replace(",", ".");
}

/**
 * `960`, `-20`, `50%`, `1 000 px` and `1920/2` are values; `+10` and `+-10` add, `*1.5` and `/2` multiply what is there.
 * Null where it is none of these.
 */
export function typed(text: string): Typed | null {
  const given = plain(text);
  const first = given[0];
  if (first !== "+" && first !== "*" && first !== "/") {
    const value = calculated(given);
    return value === null ? null : { way: "set", value };
  }
  const value = calculated(given.slice(1));
  if (value === null || (first === "/" && value === 0)) return null;
  return first === "+" ? { way: "add", value } : { way: "multiply", value: first === "*" ? value : 1 / value };
}

export const applied = ({ way, value }: Typed, now: number) =>
  way === "set" ? value : way === "add" ? now + value : now * value;

/** The value of a typed number or calculation such as `1920/2` or `-3 * (4 + .5)`; null where it is none. */
export function calculated(text: string): number | null {
  const tokens = text.replace(",", ".").match(/\d*\.?\d+(?:e[-+]?\d+)?|[-+*/()]|\S/gi) ?? [];
  let at = 0;
  const atom = (): number => {
    const token = tokens[at++];
    if (token === "-") return -atom();
    if (token === "+") return atom();
    if (token === "(") {
      const inner = terms();
      return tokens[at++] === ")" ? inner : Number.NaN;
    }
    return token && /^[\d.]/.test(token) ? Number(token) : Number.NaN;
  };
  const factors = (): number => {
    let value = atom();
    while (tokens[at] === "*" || tokens[at] === "/") value = tokens[at++] === "*" ? value * atom() : value / atom();
    return value;
  };
  const terms = (): number => {
    let value = factors();
    while (tokens[at] === "+" || tokens[at] === "-")
      value = tokens[at++] === "+" ? value + factors() : value - factors();
    return value;
  };
  const value = terms();
  return at === tokens.length && tokens.length > 0 && Number.isFinite(value) ? value : null;
}
