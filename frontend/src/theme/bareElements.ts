import { defineGlobalStyles } from "@chakra-ui/react";

/**
 * What bare elements look like before a component styles them. The kit's own reset sets forty properties, most of them
 * its variables, on every element and on its `::before`, `::after`, `::placeholder` and `::selection`: a third of the
 * browser's work on styles whenever a part of the page opens. Here is what is used.
 */
export const bareElements = defineGlobalStyles({
  "*": {
    margin: "0px",
    padding: "0px",
    font: "inherit",
    boxSizing: "border-box",
    borderWidth: "0px",
    borderStyle: "solid",
    borderColor: "var(--global-color-border)",
    scrollbarWidth: "thin",
  },
  html: {
    color: "fg",
    bg: "bg",
    lineHeight: 1.5,
    colorPalette: "gray",
    wordWrap: "break-word",
    WebkitTapHighlightColor: "transparent",
    textRendering: "optimizeLegibility",
    touchAction: "manipulation",
    tabSize: 4,
    "--global-color-border": "colors.border",
  },
  body: { minHeight: "100dvh", position: "relative" },
  "img, svg, video, canvas": { display: "block", verticalAlign: "middle" },
  "img, video": { maxWidth: "100%", height: "auto" },
  button: { backgroundColor: "transparent", backgroundImage: "none", textTransform: "none" },
  "button, input, select, textarea": { color: "inherit" },
  b: { fontWeight: "bolder" },
  textarea: { resize: "vertical" },
  a: { color: "inherit", textDecoration: "inherit" },
  'input[type="text"], input[type="password"]': { WebkitAppearance: "none" },
  "[hidden]:where(:not([hidden='until-found']))": { display: "none !important" },
  "input::placeholder, textarea::placeholder, [data-placeholder]": {
    opacity: "unset",
    color: "fg.muted/80",
    userSelect: "none",
  },
  ":root::selection": { bg: "colorPalette.emphasized/80" },
});
