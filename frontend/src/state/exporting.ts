import { create } from "zustand";
import type { ExportChoices } from "../api/client";

/** What is chosen in the export window; as long as the page is open it is there again. */
export interface Exporting {
  kind: string;
  choices: ExportChoices;
  /** How often choices were taken as a whole: fields then show those. */
  takes: number;
}

export const useExporting = create<Exporting>(() => ({ kind: "webm", choices: {}, takes: 0 }));

export const setExporting = (now: Partial<Exporting>) => useExporting.setState(now);

/** A format and its choices as they were kept. */
export const takeExporting = (kind: string, choices: ExportChoices) =>
  useExporting.setState(({ takes }) => ({ kind, choices, takes: takes + 1 }));

/** One choice more or another; `undefined` takes it away. */
export const choose = (change: ExportChoices) =>
  useExporting.setState(({ choices }) => ({
    choices: Object.fromEntries(
      Object.entries({ ...choices, ...change }).filter(([, value]) => value !== undefined),
    ) as ExportChoices,
  }));
