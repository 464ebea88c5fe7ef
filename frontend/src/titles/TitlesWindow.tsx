import { Window } from "../fields/Window";
import { TitlesTable } from "./TitlesTable";

/** Titles from a table: its rows against the slots of the scene, as they will be, and their files. */
export function TitlesWindow() {
  return (
    <Window name="titles" title="Titles from a table" width="min(1240px, calc(100vw - 24px))">
      <TitlesTable />
    </Window>
  );
}
