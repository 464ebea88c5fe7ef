import type { Layer } from "../api/client";
import { useProjectScenes } from "../session/projects";
import { useSession } from "../session/session";
import { useSmallFrames } from "./smallFrames";

/** Small pictures of frames of a layer's source, as addresses; none where it shows nothing. */
export function useSourcePictures(layer: Layer, frames: number[], width: number): (string | undefined)[] {
  const session = useSession();
  const { kind, asset } = layer.content as { kind: string; asset: string };
  const clips = useSmallFrames(asset, kind === "clip" ? frames : [], width);
  const scene = useProjectScenes().find(({ id }) => id === asset);
  if (kind === "clip") return clips;
  const version = `${scene?.revision ?? 0}.${session.innerVersion}`;
  return frames.map((frame) =>
    frame >= 0 ? `/api/scenes/${asset}/still?frame=${frame}&width=${width}&v=${version}` : undefined,
  );
}
