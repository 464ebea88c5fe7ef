import { ChevronDown, ChevronRight } from "lucide-react";
import { Box, chakra, Flex } from "../parts/styled";
import { fold, useFolded } from "../state/folded";

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
  const folded = useIsFolded(name);
  return (
    <Box role="group" aria-label={name} borderTopWidth="1px" borderColor="edge" mt="2.5" pt="1.5">
      <Flex align="center" gap="1.5" minHeight="26px">
        <FoldButton name={name} title={title}>
          {title}
        </FoldButton>
        {!folded && beside}
      </Flex>
      {!folded && children}
    </Box>
  );
}

export const useIsFolded = (name: string) => useFolded((state) => Boolean(state.folded[name]));

/** What folds a part of the panel and opens it again, with its title beside the mark or without. */
export function FoldButton({ name, title, children }: { name: string; title: string; children?: React.ReactNode }) {
  const folded = useIsFolded(name);
  const Mark = folded ? ChevronRight : ChevronDown;
  return (
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
      borderRadius="control"
      _hover={{ color: "act" }}
      _focusVisible={{ outline: "2px solid", outlineColor: "act" }}
      onClick={() => fold(name, !folded)}
    >
      <Mark size={13} aria-hidden /> {children}
    </chakra.button>
  );
}
