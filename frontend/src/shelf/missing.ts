import type { Edit } from "../api/client";
import type { Session } from "../session/session";

const STAND_IN = /^missing: ([^\n]+)/i;

/** Puts a medium in place of the texts of the scene that stand for it, since it was missing; how many there were. */
export async function putInPlace(session: Session, name: string, content: object): Promise<number> {
  const layers = (session.answer?.scene.layers ?? []).flatMap(({ id, content: own }) =>
    own.kind === "text" && STAND_IN.exec(own.text)?.[1].trim().toLowerCase() === name.toLowerCase() ? [id!] : [],
  );
  if (!layers.length) return 0;
  return (await session.edit({ edit: "relink", layers, content } as unknown as Edit)) ? layers.length : 0;
}

/** How often, in words: “in place of 2 texts”. */
export const inPlaceWords = (count: number) =>
  count === 1 ? "in place of the text that stood for it" : `in place of the ${count} texts that stood for it`;
