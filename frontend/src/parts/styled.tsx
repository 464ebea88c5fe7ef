import type * as Kit from "@chakra-ui/react";
import { serializeStyles } from "@emotion/serialize";
import { insertStyles } from "@emotion/utils";
import { createElement, type ElementType } from "react";
import { styles as sheet } from "../theme/sheet";
import { system } from "../theme/theme";

/**
 * The kit's boxes with its names of styles, its roles and its recipes, made to cost little: styles that were seen before
 * are found again by their text. The kit's own elements resolve, hash and compare theirs each time a part of the page
 * renders, in four components each, which was half of the work of every edit.
 */
type Given = Record<string, unknown>;

/** Classes by the text of the styles that they stand for. */
const classes = new Map<string, string>();
const isStyle = new Map<string, boolean>();

const styled = (name: string) => {
  let known = isStyle.get(name);
  if (known === undefined) {
    known = name !== "children" && name !== "className" && system.isValidProperty(name);
    isStyle.set(name, known);
  }
  return known;
};

const classOf = (key: string, style: () => object[]) => {
  let found = classes.get(key);
  if (found === undefined) {
    const serialized = serializeStyles(style() as Parameters<typeof serializeStyles>[0], sheet.registered);
    insertStyles(sheet, serialized, true);
    found = serialized.styles ? `${sheet.key}-${serialized.name}` : "";
    classes.set(key, found);
  }
  return found;
};

/** A component of a tag; `layout` gives short names of styles, such as `align`; `recipe` the kit's way to name variants. */
function make(
  tag: string,
  layout: Record<string, string> = {},
  base: Kit.SystemStyleObject = {},
  recipe?: Kit.RecipeDefinition,
) {
  const variants = recipe && system.cva(recipe);
  const start = `${JSON.stringify(recipe ?? base)}|`;
  return function Styled(given: Given) {
    let key = start;
    const rest: Given = {};
    for (const name in given) {
      const value = given[name];
      if (name === "as" || name === "css") continue;
      if (name in layout || styled(name) || variants?.variantKeys.includes(name as never)) {
        if (value == null) continue;
        key += typeof value === "string" ? `${name}:${value}\n` : `${name}=${JSON.stringify(value)}\n`;
      } else rest[name] = value;
    }
    if (given.css) key += JSON.stringify(given.css);
    const own = classOf(key, () => {
      const chosen: Given = {};
      const style: Kit.SystemStyleObject & Given = {};
      for (const name in given) {
        // What is not given takes nothing away from what is there by itself.
        if (name === "as" || name === "css" || given[name] == null) continue;
        if (variants?.variantKeys.includes(name as never)) chosen[name] = given[name];
        else if (name in layout) style[layout[name]] = given[name];
        else if (styled(name)) style[name] = given[name];
      }
      const more = given.css ? [given.css as object].flat() : [];
      return [
        system.css(
          (variants ? variants(chosen) : base) as Kit.SystemStyleObject,
          ...more,
          style as Kit.SystemStyleObject,
        ),
      ];
    });
    const names = [own, given.className].filter(Boolean).join(" ");
    if (names) rest.className = names;
    return createElement((given.as as ElementType | undefined) ?? tag, rest);
  };
}

const FLEX = {
  direction: "flexDirection",
  align: "alignItems",
  justify: "justifyContent",
  wrap: "flexWrap",
  basis: "flexBasis",
  grow: "flexGrow",
  shrink: "flexShrink",
};
const GRID = { templateColumns: "gridTemplateColumns", templateRows: "gridTemplateRows" };

export const Box = make("div") as unknown as typeof Kit.Box;
export const Flex = make("div", FLEX, { display: "flex" }) as unknown as typeof Kit.Flex;
export const Grid = make("div", GRID, { display: "grid" }) as unknown as typeof Kit.Grid;
export const Text = make("p") as unknown as typeof Kit.Text;

const tags = new Map<string, unknown>();

/** `chakra.button` and the like; `chakra("button", recipe)` gives a component of one's own. */
export const chakra = new Proxy((tag: string, recipe: Kit.RecipeDefinition) => make(tag, {}, {}, recipe), {
  get(_, tag: string) {
    if (!tags.has(tag)) tags.set(tag, make(tag));
    return tags.get(tag);
  },
}) as unknown as typeof Kit.chakra;
