/** The value of a typed number or sum such as `1920/2` or `-3 * (4 + .5)`; null where it is none. */
export function sum(text: string): number | null {
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
