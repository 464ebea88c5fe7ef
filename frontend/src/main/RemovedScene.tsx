import { useState } from "react";
import { Link } from "react-router";
import { api, need, type RemovedItem } from "../api/client";
import { Pill } from "../parts/Pill";
import { Flex, Text } from "../parts/styled";

/** What was removed of a scene: itself, or the project that it lies in; null where it is there. */
export async function removedOf(scene: string, project: string): Promise<RemovedItem | null> {
  const items = (await need(api.GET("/api/removed"))) as RemovedItem[];
  return items.find(({ kind, id }) => id === (kind === "scene" ? scene : project)) ?? null;
}

/** In the place of a scene that was removed: it is not changed unseen, and can be brought back. */
export function RemovedScene({ item, back }: { item: RemovedItem; back: () => void }) {
  const [fault, setFault] = useState("");
  const bring = async () => {
    const query = { removed: false };
    try {
      await need(
        item.kind === "scene"
          ? api.PUT("/api/scenes/{scene_id}/removed", { params: { path: { scene_id: item.id }, query } })
          : api.PUT("/api/projects/{project_id}/removed", { params: { path: { project_id: item.id }, query } }),
      );
      back();
    } catch (error) {
      setFault((error as Error).message);
    }
  };
  return (
    <Flex direction="column" align="flex-start" gap="3" p="8" data-testid="removed-scene">
      <Text fontSize="name" fontWeight={700}>
        {item.kind === "scene" ? `The scene “${item.name}” was removed.` : `The project “${item.name}” was removed.`}
      </Text>
      <Text color="quiet">Nothing of it is lost. Bring it back to go on with it.</Text>
      <Flex gap="3" align="center">
        <Pill look="act" onClick={() => void bring()}>
          Bring it back
        </Pill>
        <Link to="/">Home</Link>
      </Flex>
      {fault && <Text color="findingInk">{fault}</Text>}
    </Flex>
  );
}
