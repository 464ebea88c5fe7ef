import { chakra } from "@chakra-ui/react";

/** A one-line field. */
export const TextInput = chakra("input", {
  base: {
    height: "26px",
    px: "2",
    bg: "well",
    borderWidth: "1px",
    borderColor: "edge",
    borderRadius: "7px",
    _focusVisible: { outline: "1px solid", outlineColor: "act", borderColor: "act" },
  },
});
