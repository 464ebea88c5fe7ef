import { Text } from "../parts/styled";

/** What a line of the panel is called, where it has no pebble: as wide as pebble and name together. */
export function RowLabel({ title, children }: { title?: string; children: React.ReactNode }) {
  return (
    <Text width="76px" flex="none" fontWeight={600} fontSize="row" color="quiet" truncate title={title}>
      {children}
    </Text>
  );
}
