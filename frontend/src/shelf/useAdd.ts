import type { Edit } from "../api/client";
import { freshId } from "../api/token";
import { setPage } from "../studio/page";
import { select } from "../studio/selection";
import { useSession } from "../studio/session";

type Content = Extract<Edit, { edit?: "add_layer" }>["content"];

/** Adds a layer with some content, from a frame on where one is given, and selects it. */
export function useAdd() {
  const session = useSession();
  return async (content: Content, name?: string, start?: number) => {
    const id = freshId();
    if (await session.edit({ edit: "add_layer", id, content, name, start } as Edit)) select(id);
    setPage({ drawer: null });
  };
}
