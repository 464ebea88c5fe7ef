import type { LucideIcon } from "lucide-react";
import { Flex } from "../parts/styled";

interface Props {
  testId: string;
  side: "left" | "right";
  icon: LucideIcon;
  children: React.ReactNode;
}

/** A line in a corner of the stage that says where the hands are; the stage does not take its presses. */
export function StageNote({ testId, side, icon: Icon, children }: Props) {
  return (
    <Flex
      data-testid={testId}
      position="absolute"
      top="26px"
      {...{ [side]: "26px" }}
      align="center"
      gap="2"
      pl="3"
      pr="1"
      height="28px"
      borderRadius="full"
      bg="paper"
      borderWidth="1px"
      borderColor="act"
      fontSize="row"
      fontWeight={600}
      onPointerDown={(event) => event.stopPropagation()}
    >
      <Icon size={13} aria-hidden />
      {children}
    </Flex>
  );
}
