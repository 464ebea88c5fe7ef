import { chakra } from "./styled";

/** A choice that is on or off. */
export function Switch({ text, on, set }: { text: string; on: boolean; set: (on: boolean) => void }) {
  return (
    <chakra.label display="flex" alignItems="center" gap="2" cursor="pointer" minHeight="24px">
      <chakra.input
        type="checkbox"
        checked={on}
        onChange={(event) => set(event.target.checked)}
        accentColor="var(--chakra-colors-act)"
        width="15px"
        height="15px"
      />
      {text}
    </chakra.label>
  );
}
