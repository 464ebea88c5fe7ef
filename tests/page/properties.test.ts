import type { Facts, Layer } from "../../frontend/src/api/client";
import { factsOf, labelOf, placeOf } from "../../frontend/src/document/properties";

const about = (label: string, noun = "", told = false) => ({
  label, noun, told, unit: "px", parts: ["x", "y"], role: "size", step: 1, linked: false, low: null, high: null,
}); // prettier-ignore
const facts = {
  tags: ["kind", "shape", "effect"],
  properties: {
    position: about("Position"),
    "masks.feather": about("Feather", "mask"),
    "masks.transform.opacity": about("Strength", "mask", true),
    "content:shape.items:star.size": about("Size", "shape"),
    "content:shape.items:star.fill.stops.colour": about("Colour", "stop", true),
    "content:shape.items:group.items:star.size": about("Size", "shape"),
    "content:shape.items:group.transform.position": about("Position", "shape", true),
  },
} as unknown as Facts;
const star = { shape: "star", size: { rest: [9, 9] }, fill: { stops: [{ colour: { rest: "#000000ff" } }, {}] } };
const group = { shape: "group", transform: { position: { rest: [0, 0] } }, items: [star, { ...star, name: "Sun" }] };
const layer = {
  id: "buoy",
  position: { rest: [0, 0] },
  masks: [{ feather: {} }, { feather: {}, name: "Iris" }],
  content: { kind: "shape", items: [group, star, { ...group, items: [group] }] },
} as unknown as Layer;

test.each([
  ["position", "Position"],
  ["masks.0.feather", "Feather"],
  ["masks.1.feather", "Feather of Iris"],
  ["content.items.0.transform.position", "Position of shape 1"],
  ["content.items.0.items.1.size", "Size of Sun"],
  ["content.items.1.size", "Size of shape 2"],
  ["content.items.1.fill.stops.0.colour", "Colour of stop 1"],
  ["content.items.1.fill.stops.1.colour", "Colour of stop 2"],
  ["content.items.2.items.0.items.0.size", "Size"],
  ["content.unknown", "content.unknown"],
])("%s is called %s", (path, label) => {
  expect(labelOf(layer, path, facts)).toBe(label);
});

test("a mask's opacity is its strength", () => {
  expect(factsOf({ ...layer, id: "buoy/@/m" } as Layer, "opacity", facts).label).toBe("Strength");
});

test("properties of a layer come before those of its shapes, shape by shape", () => {
  const paths = ["content.items.1.size", "content.items.0.transform.position", "position"];
  expect(paths.toSorted((a, b) => placeOf(layer, a, facts) - placeOf(layer, b, facts))).toEqual(paths.toReversed());
});
