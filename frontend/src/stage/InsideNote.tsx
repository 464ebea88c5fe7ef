import { Shapes } from "lucide-react";
import { Pill } from "../parts/Pill";
import { useScene } from "../studio/document";
import { goOut } from "../studio/goInto";
import { isItem, layerAt } from "../studio/items";
import { selection, useSelection } from "../studio/selection";
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
