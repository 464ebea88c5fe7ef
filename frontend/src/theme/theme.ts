import { createSystem, defaultBaseConfig, defineConfig, defineRecipe, defineSlotRecipe } from "@chakra-ui/react";
import * as kit from "@chakra-ui/react/theme";
import { bareElements } from "./bareElements";

const role = (day: string, night: string) => ({ value: { _light: day, _dark: night } });

/** Every colour of the interface by its role; components name roles, never colours. */
const colors = {
  paper: role("#FBF8F2", "#1D2426"),
  panel: role("#F6F1E7", "#161C1E"),
  well: role("#FFFFFF", "#2A3437"),
  edge: role("#DCCFB8", "#38464A"),
  field: role("#948A76", "#74848A"),
  ink: role("#1B2628", "#EDE7DA"),
  quiet: role("#5E7176", "#9DB0B3"),
  act: role("#0E6B61", "#4FBDAE"),
  actInk: role("#FFFFFF", "#0B1F1C"),
  actWash: role("#D9EBE6", "#1E3B38"),
  finding: role("#FBEBCB", "#4A3A17"),
  findingInk: role("#6B4A08", "#F6DDA5"),
  span: role("#9FC4BC", "#2F5C56"),
  spanEdge: role("#4E7C75", "#7FB5AB"),
  chosen: role("#EDE3D0", "#2B373B"),
  surround: role("#B7B6B1", "#4B4C4B"),
  surroundLight: role("#DAD9D5", "#777876"),
  surroundDark: role("#63635F", "#232423"),
  anchor: role("#D9482F", "#F0705A"),
  anchorWash: role("#FCECE8", "#43261F"),
  anchorInk: role("#C23A22", "#F38A77"),
  position: role("#147482", "#5BC0CF"),
  scale: role("#9A6200", "#E3AE4B"),
  rotation: role("#7B4397", "#C495DD"),
  opacity: role("#52656B", "#A9BCC2"),
  size: role("#4B7323", "#9CC76C"),
  chequerLight: { value: "#dedcd6" },
  chequerDark: { value: "#c9c7c0" },
  markHalo: { value: "#ffffff" },
  markLine: { value: "#1b2628" },
  markCoral: { value: "#d9482f" },
  markGuide: { value: "#0b7568" },
};

export const pill = defineRecipe({
  base: {
    display: "inline-flex",
    alignItems: "center",
    justifyContent: "center",
    gap: "1.5",
    height: "28px",
    px: "3",
    borderRadius: "full",
    borderWidth: "1px",
    borderColor: "field",
    bg: "well",
    color: "ink",
    fontSize: "row",
    fontWeight: 500,
    cursor: "pointer",
    whiteSpace: "nowrap",
    _hover: { borderColor: "act" },
    _focusVisible: { outline: "2px solid", outlineColor: "act", outlineOffset: "1px" },
    _disabled: { opacity: 0.45, cursor: "default", _hover: { borderColor: "field" } },
  },
  variants: {
    look: {
      plain: {},
      act: { bg: "act", color: "actInk", borderColor: "act", fontWeight: 600 },
      ink: { bg: "ink", color: "paper", borderColor: "ink", fontWeight: 600 },
      bare: { bg: "transparent", borderColor: "transparent", px: "1.5" },
      on: { bg: "actWash", borderColor: "act", color: "act" },
      finding: { bg: "finding", color: "findingInk", borderColor: "transparent", fontWeight: 600, px: "2.5" },
    },
  },
  defaultVariants: { look: "plain" },
});

const menu = defineSlotRecipe({
  slots: ["content", "item"],
  base: {
    content: {
      zIndex: "popover",
      minWidth: "200px",
      p: "1",
      bg: "paper",
      color: "ink",
      borderWidth: "1px",
      borderColor: "edge",
      borderRadius: "10px",
      boxShadow: "lg",
      outline: "none",
    },
    item: {
      display: "flex",
      alignItems: "center",
      px: "2.5",
      py: "0.5",
      lineHeight: "22px",
      borderRadius: "7px",
      cursor: "pointer",
      _highlighted: { bg: "actWash" },
    },
  },
});

const segmentGroup = defineSlotRecipe({
  slots: ["root", "item", "itemText"],
  base: {
    root: {
      display: "flex",
      flex: "1",
      borderWidth: "1px",
      borderColor: "field",
      borderRadius: "control",
      overflow: "hidden",
    },
    item: {
      position: "relative",
      display: "flex",
      flex: "1",
      alignItems: "center",
      justifyContent: "center",
      height: "22px",
      px: "1.5",
      fontSize: "row",
      fontWeight: 600,
      whiteSpace: "nowrap",
      cursor: "pointer",
      bg: "well",
      color: "quiet",
      _focusVisible: { outline: "2px solid", outlineColor: "act", outlineOffset: "-2px" },
    },
  },
});

const config = defineConfig({
  globalCss: {
    "html, body, #root": { height: "100%", bg: "paper", color: "ink" },
    body: { fontFamily: "body", fontSize: "row", fontVariantNumeric: "tabular-nums", overscrollBehavior: "none" },
    // A text marked by a hand that drags would be dragged itself the next time.
    "#root": { userSelect: "none" },
    "input, textarea": { userSelect: "text" },
    "input, textarea, select, button": { font: "inherit", color: "inherit" },
  },
  theme: {
    tokens: {
      fonts: {
        body: { value: "'Figtree Variable', var(--scripts, sans-serif), sans-serif" },
        heading: { value: "'Figtree Variable', var(--scripts, sans-serif), sans-serif" },
      },
      // Captions; rows of the panel, the lanes and menus; titles of blocks; names. `page` heads a page of its own.
      fontSizes: {
        caption: { value: "11px" },
        row: { value: "12.5px" },
        title: { value: "13px" },
        name: { value: "15px" },
        page: { value: "21px" },
      },
      radii: { control: { value: "7px" } },
      // The grid of the panel: where values begin after pebble and label, two half fields and a whole one, and what a
      // control is high.
      sizes: {
        label: { value: "70px" },
        half: { value: "57px" },
        whole: { value: "120px" },
        control: { value: "24px" },
      },
    },
    semanticTokens: { colors },
    recipes: { pill },
    slotRecipes: { menu, segmentGroup },
  },
});

const some = <T extends object>(all: T, ...names: (keyof T)[]) =>
  Object.fromEntries(names.map((name) => [name, all[name]])) as Partial<T>;

/**
 * Of the kit what is used here. Its whole theme, and even the import of it (`defaultConfig`), which makes a system of it,
 * would hold up the opening of every page.
 */
const used = defineConfig({
  preflight: false,
  cssVarsPrefix: kit.cssVarsPrefix,
  cssVarsRoot: kit.cssVarsRoot,
  globalCss: bareElements,
  theme: {
    breakpoints: kit.breakpoints,
    keyframes: kit.keyframes,
    textStyles: kit.textStyles,
    layerStyles: kit.layerStyles,
    animationStyles: kit.animationStyles,
    tokens: { ...kit.tokens, colors: some(kit.tokens.colors, "black", "white", "gray", "blackAlpha") },
    semanticTokens: {
      ...kit.semanticTokens,
      colors: some(kit.semanticTokens.colors, "bg", "fg", "border", "gray"),
    },
    recipes: some(kit.recipes, "heading"),
    slotRecipes: some(kit.slotRecipes, "dialog", "popover"),
  },
});

export const system = createSystem(defaultBaseConfig, used, config);

/** A role's colour as CSS, for SVG attributes. */
export const roleColour = (name: string) =>
  `var(--chakra-colors-${name.replace(/[A-Z]/g, (c) => `-${c.toLowerCase()}`)})`;

/** The chequer that stands for transparency. */
export const CHEQUER = `repeating-conic-gradient(${roleColour("chequerLight")} 0 25%, ${roleColour("chequerDark")} 0 50%) 0 0 / 20px 20px`;
