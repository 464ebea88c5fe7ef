import { Box, chakra, Flex } from "@chakra-ui/react";
import { ChevronDown, ChevronRight } from "lucide-react";
import { fold, useFolded } from "../studio/folded";

interface Props {
  /** What it is known by, and what it is called where `title` says nothing else. */
  name: string;
  title?: string;
  /** Beside the title; folded away with the rest. */
  beside?: React.ReactNode;
  children?: React.ReactNode;
}

/** A part of the panel that folds, and stays folded. */
export function Block({ name, title = name, beside, children }: Props) {
  const folded = useFolded((state) => Boolean(state.folded[name]));
  const Mark = folded ? ChevronRight : ChevronDown;
  return (
    <Box role="group" aria-label={name} borderTopWidth="1px" borderColor="edge" pt="1.5" pb="1.5">
      <Flex align="center" gap="1.5" minHeight="26px">
        <chakra.button
          type="button"
          aria-expanded={!folded}
          aria-label={`${folded ? "Open" : "Fold"} ${title}`}
          display="flex"
          alignItems="center"
          gap="0.5"
          ml="-3px"
          fontWeight={700}
          whiteSpace="nowrap"
          cursor="pointer"
          borderRadius="6px"
          _hover={{ color: "act" }}
          _focusVisible={{ outline: "2px solid", outlineColor: "act" }}
          onClick={() => fold(name, !folded)}
        >
          <Mark size={13} aria-hidden /> {title}
        </chakra.button>
        {!folded && beside}
      </Flex>
      {!folded && children}
    </Box>
  );
}
