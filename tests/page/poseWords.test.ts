import { expect, test } from "vitest";
import { wordsOf } from "../../frontend/src/poses/poseWords";

test.each([
  ["position", "Position", [0, 0], [0, 62], "62 px down"],
  ["position", "Position", [0, 0], [-30, -1.26], "30 px left, 1.3 px up"],
  ["position", "Position", [1, 1], [1.01, 1], "stays"],
  ["position", "Position", undefined, [226, 798], "position 226, 798"],
  ["position.x", "Position x", 10, 4, "6 px left"],
  ["opacity", "Opacity", 0, 100, "fades in"],
  ["opacity", "Opacity", 0, 40, "fades in to 40 %"],
  ["opacity", "Opacity", 40, 0, "fades out"],
  ["opacity", "Opacity", 100, 40, "fades to 40 %"],
  ["scale", "Scale", [100, 100], [108, 108], "grows to 108 %"],
  ["scale", "Scale", [100, 100], [-20, -20], "shrinks to −20 %"],
  ["scale", "Scale", [100, 100], [100, 0], "scales to 100, 0 %"],
  ["scale", "Scale", undefined, [0, 0], "scale 0 %"],
  ["rotation", "Rotation", 15, -75, "turns −90°"],
  ["anchor", "Anchor", [0, 0], [0.5, 1], "anchor 50, 100"],
  ["content.items.3.rotation", "Rotation of Left claw", 0, 6, "Left claw turns 6°"],
  ["content.items.3.position", "Position of Head of reeds", [0, 0], [4, 0], "Head of reeds 4 px right"],
  ["content.size", "Text size", 20, 58, "text size 58"],
  ["content.items.0.size", "Size", [1, 1], [860, 172], "size 860, 172"],
  ["content.items.0.fill", "Fill", "#fff", "#000", "fill"],
])("what a key of %s does is told: %s, %j to %j", (name, label, before, value, words) => {
  expect(wordsOf(name, label, before, value).replaceAll("\u00a0", " ")).toBe(words);
});
