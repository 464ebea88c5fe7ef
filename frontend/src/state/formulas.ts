import { create } from "zustand";
import { typeInto } from "../parts/typeAhead";

/** The properties whose formula rows are open without a formula, as `layer.property`. */
export const useFormulasOpen = create<Record<string, boolean>>(() => ({}));

/** Open or close the row of a formula; one that is opened, or was open, gets the keyboard and what is typed meanwhile. */
export const setFormulaOpen = (layer: string, name: string, open: boolean) => {
  useFormulasOpen.setState({ [`${layer}.${name}`]: open });
  if (open)
    void typeInto({
      field: `[data-formula="${CSS.escape(`${layer}.${name}`)}"] .cm-content`,
      comes: Promise.resolve(true),
    });
};

/** The formula that was copied last, to be pasted onto other properties. */
export const useCopied = create<{ text: string }>(() => ({ text: "" }));

interface Pointing {
  /** The property whose formula gets what is pointed at, as `layer.property`; null while nothing points. */
  owner: string | null;
  /** What lies under a pointer on the stage: a layer, and a share of its box, or none for its anchor. */
  onStage: (event: PointerEvent) => { layer: string; share: [number, number] | null } | null;
}

/** The hand that points at what a formula is to read. */
export const usePointing = create<Pointing>(() => ({ owner: null, onStage: () => null }));
