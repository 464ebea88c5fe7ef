import { create } from "zustand";

/** The properties whose formula rows are open without a formula, as `layer.property`. */
export const useFormulasOpen = create<Record<string, boolean>>(() => ({}));

export const setFormulaOpen = (layer: string, name: string, open: boolean) =>
  useFormulasOpen.setState({ [`${layer}.${name}`]: open });
