import { layerAt } from "../document/items";
import type { Point, View } from "../geometry/layerGeometry";
import { paste } from "../keys/copyPaste";
import { layerActs } from "../keys/layerMenu";
import { type Act, openMenu } from "../parts/FloatMenu";
import type { Session } from "../session/session";
import { DRAWN, DRAWN_WORDS, drawNext } from "../state/drawing";
import { setPage } from "../state/page";
import { select, selection } from "../state/selection";
import { layersAt } from "./hitTest";

/** What lies under the pointer, each by its name, the front one first; of one name they are counted. */
function below(session: Session, under: string[], chosen: string): Act[] {
  const names = new Map<string, number>();
  return under.flatMap((id): Act[] => {
    const name = layerAt(session.answer?.scene.layers, id)?.name ?? id;
    const count = (names.get(name) ?? 0) + 1;
    names.set(name, count);
    return id === chosen ? [] : [[`Select ${name}${count > 1 ? ` (${count})` : ""}`, () => select(id)]];
  });
}

/** The menu of a place of the stage: of the layer there, with all that lies under it; or of the empty stage. */
export function openStageMenu(session: Session, view: View, at: Point, window: Point) {
  const under = layersAt(session, view, at);
  const { selected } = selection();
  const [only] = selected.length === 1 ? selected : [];
  openMenuOf(session, only && under.includes(only) ? only : under[0], under, window);
}

/** The menu of the selected layer, at the place of it in the window. */
export function openSelectedMenu(session: Session, window: Point) {
  openMenuOf(session, selection().selected.at(-1), [], window);
}

function openMenuOf(session: Session, id: string | undefined, under: string[], window: Point) {
  const layer = id && !id.includes("/") ? layerAt(session.answer?.scene.layers, id) : undefined;
  const others = below(session, under, layer ? id! : "");
  const lying: Act[][] = others.length ? [others] : [];
  if (layer) {
    if (!selection().selected.includes(id!)) select(id!);
    openMenu(layer.name!, [...lying, ...layerActs(session, layer)], window);
    return;
  }
  const drawn = DRAWN.filter((what) => what !== "mask");
  const draws = drawn.map((what): Act => [`Draw: ${DRAWN_WORDS[what]}`, () => drawNext(what)]);
  const groups: Act[][] = [
    [["Paste", () => void paste(session), "Ctrl V"]],
    draws,
    [["Add a layer…", () => setPage({ drawer: "add" })]],
    ...lying,
  ];
  openMenu("Stage", groups, window);
}
