import type { Edit } from "../api/client";
import { freshId } from "../api/token";
import { hasWords } from "../document/contents";
import { typeInto } from "../parts/typeAhead";
import { readableContent } from "../session/readable";
import { type Session, useSession } from "../session/session";
import { setPage } from "../state/page";
import { select, setSelection } from "../state/selection";

type Content = Extract<Edit, { edit?: "add_layer" }>["content"];

/** The middle quarter of the scene, where a new layer stands. */
function middleOf(session: Session) {
  const { width, height } = session.answer!.scene;
  return [(width * 3) / 8, (height * 3) / 8, width / 4, height / 4];
}

/** Adds a layer with some content, from a frame on where one is given, and selects it. */
export function useAdd() {
  const session = useSession();
  return async (content: Content, name?: string, start?: number) => {
    const id = freshId();
    const kept = readableContent(session, content as object, middleOf(session)).then((seen) =>
      session.edit({ edit: "add_layer", id, content: seen, name, start } as Edit),
    );
    // A new text is there to be written: its words are selected, and what is typed meanwhile takes their place.
    if (hasWords(content)) void typeInto({ field: "[data-testid=text-in-place]", comes: kept });
    if (await kept) {
      select(id);
      if (hasWords(content)) setSelection({ editing: id });
    }
    setPage({ drawer: null });
  };
}
