import { describe, expect, it, test } from "vitest";
import type { Layer } from "../../frontend/src/api/client";
import * as items from "../../frontend/src/document/items";

const box = (id: string, more = {}) => ({ shape: "rectangle", id, size: { rest: [10, 10] }, ...more });
const crab = {
  id: "crab",
  name: "Crab",
  locked: true,
  span: { start: 3, length: 9 },
  content: {
    kind: "shape",
    items: [box("1"), { shape: "group", id: "g", name: "Claws", items: [box("7"), box("8", { name: "Left" })] }, box("")],
  },
  masks: [{ id: "m", name: "Window", visible: false, shape: { shape: "ellipse", size: { rest: [4, 4] } } }],
} as unknown as Layer;

test.each([
  ["crab", "", "crab", []],
  ["crab/g", "crab", "crab", ["crab"]],
  ["crab/g/8", "crab/g", "crab", ["crab", "crab/g"]],
  // What masks lie in is nothing that is gone out to.
  ["crab/@/m", "crab/@", "crab", ["crab"]],
])("%s lies in %s, within %s", (id, parent, layer, outer) => {
  expect([items.parentOf(id), items.layerIn(id), items.outerOf(id)]).toEqual([parent, layer, outer]);
});

describe("shapes as layers", () => {
  it("are found by their addresses, those without an id by their places", () => {
    const claw = items.layerAt([crab], "crab/g/8")!;
    expect([claw.name, claw.locked, claw.span]).toEqual(["Left", true, crab.span]);
    expect(items.layerAt([crab], "crab/g")).toBe(items.layerAt([crab], "crab/g"));
    expect(items.layerAt([crab], items.addressAt(crab, 2))?.name).toBe("Rectangle 3");
    expect(items.layerAt([crab], "crab/1/7")).toBeUndefined();
    expect(items.layerAt([crab], "gone/1")).toBeUndefined();
    expect(items.within(crab)).toEqual(["crab/2", "crab/g", "crab/1"]);
  });

  it("hold others, or are bare", () => {
    const [group, bare] = ["crab/g", "crab/g/7"].map((id) => items.layerAt([crab], id)!);
    expect([items.holds(crab), items.holds(group), items.holds(bare)]).toEqual([true, true, false]);
    expect([items.isBare(crab), items.isBare(group), items.isBare(bare)]).toEqual([false, false, true]);
  });

  it("are masks where they lie in what holds those", () => {
    const mask = items.layerAt([crab], "crab/@/m")!;
    expect([mask.name, mask.visible, items.isMask(mask.id!), items.outOf(mask.id!)]).toEqual(["Window", false, true, "crab"]);
  });
});
