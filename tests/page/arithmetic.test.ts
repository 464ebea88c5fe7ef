import { applied, calculated, typed } from "../../frontend/src/parts/arithmetic";

const value = (text: string, now = 8) => {
  const found = typed(text);
  return found && applied(found, now);
};

test.each([
  ["960", 960], ["-20", -20], ["50%", 50], ["1 000 px", 1000], ["1,000", 1000], ["0,5", 0.5], ["1,000.5", 1000.5],
  ["1920/2", 960], ["-3 * (4 + .5)", -13.5], ["+10", 18], ["+-10", -2], ["*1.5", 12], ["/2", 4], ["2e3", 2000],
  ["-90°", -90], ["12 FPS", 12], ["3 dB", 3], ["1'000'000", 1e6], ["--4", 4], ["2*-3", -6], ["(2+3)*4", 20],
])("%s is understood", (text, expected) => {
  expect(value(text)).toBeCloseTo(expected, 12);
});

test.each(["", " ", "abc", "1/0", "1e999", "(", "3)", "2 3", "1..2", "*", "+", "/0", "٣", "1,2,3", "0x10", "2**3"])(
  "%j is none",
  (text) => {
    expect(value(text)).toBeNull();
  },
);

test("calculations are those of JavaScript, whatever they are made of", () => {
  let seed = 7;
  const dice = (n: number) => {
    seed = (seed * 1103515245 + 12345) % 2 ** 31;
    return seed % n;
  };
  const made = (depth: number): string => {
    if (depth === 0 || dice(4) === 0) return `${dice(100) / 4}`;
    const inner = `${made(depth - 1)} ${"+-*/"[dice(4)]} ${made(depth - 1)}`;
    return dice(2) ? `(${inner})` : dice(3) ? inner : `-(${inner})`;
  };
  for (let i = 0; i < 2_000; i++) {
    const text = made(4);
    // biome-ignore lint/security/noGlobalEval: the reference for texts of this test's own
    const expected = eval(text) as number;
    const found = calculated(text);
    if (Number.isFinite(expected)) expect(found, text).toBeCloseTo(expected, 6);
    else expect(found, text).toBeNull();
  }
});
