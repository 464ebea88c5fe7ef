import { useEffect, useState } from "react";
import { type LayerArrays, type ResolvedMessage, unpack } from "../api/arrays";
import { PIECE } from "../document/frames";
import { useSession } from "../session/session";
import { useScene } from "../session/useScene";
import type { Compared } from "../state/sceneView";

/** Layers as they are painted at a frame, back to front. */
export interface Shown {
  frame: number;
  layers: LayerArrays[];
}

/** What is shown beside the scene as it stands: at a frame of that the other one's layers, null while they come. */
export class Other {
  private readonly pieces = new Map<number, Record<string, LayerArrays> | null>();
  private readonly gone = new AbortController();

  constructor(
    private readonly session: ReturnType<typeof useSession>,
    private readonly revision: number,
    private readonly compared: Compared,
    private readonly told: () => void,
  ) {}

  at(frame: number): Shown | null {
    const { frames } = this.session;
    const compared = this.compared;
    const known = this.piece("moment" in compared ? compared.moment : frame);
    if (!known) return null;
    if ("moment" in compared) {
      const layers = frames.order.map((id) => known[id]).filter((one) => one !== undefined);
      return { frame: compared.moment, layers };
    }
    const layers = frames.order.map((id) => (id === compared.layer ? known[id] : frames.layer(id)));
    return { frame, layers: layers.filter((one) => one !== undefined) };
  }

  stop() {
    this.gone.abort();
  }

  private piece(frame: number) {
    const index = Math.floor(frame / PIECE);
    if (!this.pieces.has(index)) {
      this.pieces.set(index, null);
      void this.fetch(index);
    }
    return this.pieces.get(index) ?? null;
  }

  private async fetch(index: number) {
    const session = this.session;
    const compared = this.compared;
    const query = new URLSearchParams({ from: String(index * PIECE), to: String((index + 1) * PIECE) });
    if (!("moment" in compared)) {
      query.set("layers", compared.layer);
      query.set("variant", compared.name);
    }
    try {
      const { signal } = this.gone;
      const answer = await fetch(`/api/scenes/${session.sceneId}/resolved?${query}&revision=${this.revision}`, {
        signal,
      });
      if (!answer.ok) return;
      const message = unpack(await answer.arrayBuffer()) as ResolvedMessage;
      session.frames.learn(message);
      this.pieces.set(index, message.layers);
      this.told();
    } catch {
      // Given up, or the line is away: it is asked for again with the next revision.
    }
  }
}

/** The other one of a comparison, asked for again with each revision; `told` hears when more of it is there. */
export function useOther(compared: Compared, told: () => void): Other | null {
  const session = useSession();
  const { revision } = useScene();
  const [other, setOther] = useState<Other | null>(null);
  const key = "moment" in compared ? `${compared.moment}` : `${compared.layer} ${compared.name}`;
  // biome-ignore lint/correctness/useExhaustiveDependencies: the key stands for what is compared
  useEffect(() => {
    const made = new Other(session, revision, compared, told);
    setOther(made);
    return () => made.stop();
  }, [session, revision, key, told]);
  return other;
}
