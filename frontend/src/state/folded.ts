import { create } from "zustand";
import { persist } from "zustand/middleware";

interface Folded {
  folded: Record<string, boolean>;
}

/** The blocks of the panel that are folded, on this machine. */
export const useFolded = create<Folded>()(
  persist(() => ({ folded: {} }) as Folded, {
    name: "mudskipper.folded",
    merge: (kept, first) => {
      const folded = (kept as Partial<Folded> | undefined)?.folded;
      const fits =
        typeof folded === "object" && folded !== null && Object.values(folded).every((flag) => flag === true);
      return fits ? { folded } : first;
    },
  }),
);

/** Fold a block, or open it. */
export function fold(name: string, on: boolean) {
  const { [name]: _, ...others } = useFolded.getState().folded;
  useFolded.setState({ folded: on ? { ...others, [name]: true } : others });
}
