import { expect, test } from "vitest";
import type { Layer, Scene } from "../../frontend/src/api/client";
import { slotAt } from "../../frontend/src/slots/slotAt";

const items = [
  { shape: "ellipse", id: "0" },
  { shape: "group", id: "2", items: [{ shape: "ellipse", id: "7" }], masks: [{ id: "m" }] },
];
const crab = { id: "crab", content: { kind: "shape", items }, effects: [{ id: "e" }, { id: "f" }], masks: [{ id: "w" }] };
const at = (address: string) => ({ ...crab, id: address }) as unknown as Layer;

test.each([
  ["crab", "opacity", "opacity"],
  ["crab", "effects.1.amount", "effects.@f.amount"],
  ["crab", "content.items.1.items.0.fill", "content.items.@2.items.@7.fill"],
  ["crab/2", "rotation", "content.items.@2.transform.rotation"],
  ["crab/0", "content.items.0.fill", "content.items.@0.fill"],
  ["crab/2/7", "content.items.0.size", "content.items.@2.items.@7.size"],
  ["crab/@/w", "feather", "masks.@w.feather"],
  ["crab/2/@/m", "content.items.0.corners", "content.items.@2.masks.@m.shape.corners"],
])("the slot of %s %s is found by its path in the document", (address, path, steady) => {
  const scene = { layers: [crab], slots: [{ id: "s", name: "Claw", places: [{ layer: "crab", path: steady }] }] };
  const given = scene as unknown as Scene;
  expect(slotAt(given, at(address), path)).toBe("Claw");
  expect(slotAt(given, at(address), `${path}s`)).toBeUndefined();
  expect(slotAt(given, { ...at(address), id: `x${address}` }, path)).toBeUndefined();
});
