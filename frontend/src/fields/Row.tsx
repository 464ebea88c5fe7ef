import { Flex } from "../parts/styled";

/** A line of the panel; `reads` is what a formula reads that points at it: a layer and a property. */
export function Row({ label, reads, children }: { label: string; reads?: string; children: React.ReactNode }) {
  return (
    <Flex align="center" gap="1.5" height="29px" role="group" aria-label={label} data-reads={reads}>
      {children}
    </Flex>
  );
}
