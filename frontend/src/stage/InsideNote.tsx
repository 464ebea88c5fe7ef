import { Shapes } from "lucide-react";
import { goOut } from "../acts/goInto";
import { isItem, layerAt } from "../document/items";
import { Pill } from "../parts/Pill";
import { useScene } from "../session/useScene";
import { selection, useSelection } from "../state/selection";
import { StageNote } from "./StageNote";

/** That the hands are inside a layer, where, and the way out. */
export function InsideNote() {
  const { scene } = useScene();
  const first = useSelection((state) => state.selected[0] ?? "");
  if (!isItem(first)) return null;
  const names = first.split("/").map((_, i, all) => layerAt(scene.layers, all.slice(0, i + 1).join("/"))?.name);
  return (
    <StageNote testId="inside-note" side="left" icon={Shapes}>
      {names.join(" › ")}
      <Pill height="20px" px="2" label="Out of the layer" onClick={() => goOut(selection().selected)}>
        Out
      </Pill>
    </StageNote>
  );
}
