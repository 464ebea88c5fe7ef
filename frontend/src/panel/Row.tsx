import { Flex } from "@chakra-ui/react";

/** A line of the panel. */
export function Row({ label, children }: { label: string; children: React.ReactNode }) {
  return (
    <Flex
      align="center"
      gap="1.5"
      height="31px"
      borderTopWidth="1px"
      borderColor="edge"
      role="group"
      aria-label={label}
    >
      {children}
    </Flex>
  );
}
