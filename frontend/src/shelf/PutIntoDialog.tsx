import { useQueryClient } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { freshId } from "../api/token";
import { Window } from "../fields/Window";
import { Choice } from "../parts/Choice";
import { Pill } from "../parts/Pill";
import { Flex, Text } from "../parts/styled";
import { TextInput } from "../parts/TextInput";
import { PROJECTS } from "../session/projects";
import { useSession } from "../session/session";
import { useScene } from "../session/useScene";
import { setPage } from "../state/page";
import { select, useSelection } from "../state/selection";

/** Asks for the name and the frame of a new scene for the selected layers, and puts them into it. */
export function PutIntoDialog() {
  const name = useRef<HTMLInputElement>(null);
  return (
    <Window name="nest" title="Put into a scene of its own" width="440px" first={() => name.current}>
      <Ask field={name} />
    </Window>
  );
}

function Ask({ field }: { field: React.RefObject<HTMLInputElement | null> }) {
  const session = useSession();
  const cache = useQueryClient();
  const { scene } = useScene();
  const selected = useSelection((state) => state.selected);
  const layers = (scene.layers ?? []).filter(({ id }) => selected.includes(id!));
  const [name, setName] = useState(layers.at(-1)?.name ?? "Scene");
  const [frame, setFrame] = useState<"scene" | "tight">("scene");
  const [margin, setMargin] = useState("0");
  const sent = useRef(false);
  const px = Number(margin);
  const fits = name.trim() !== "" && layers.length > 0 && Number.isInteger(px) && px >= 0 && px <= 4_000;
  const put = async () => {
    // A second press, or Enter again, finds nothing left to do.
    if (!fits || sent.current) return;
    sent.current = true;
    setPage({ dialog: null });
    const id = freshId();
    const ids = layers.map((layer) => layer.id!);
    const edit = { edit: "put_into_scene", layers: ids, name: name.trim(), frame, margin: px, id } as never;
    if (!(await session.edit(edit))) return;
    void cache.invalidateQueries({ queryKey: PROJECTS.queryKey });
    select(id);
  };
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault();
        void put();
      }}
    >
      <Flex direction="column" gap="3" fontSize="title">
        <Text color="quiet">
          {layers.length === 1 ? "One layer goes" : `${layers.length} layers go`} into a new scene of this project,
          which a layer shows in their place. Nothing changes to be seen.
        </Text>
        <Flex align="center" gap="2">
          <Text width="70px" fontWeight={600}>
            Name
          </Text>
          <TextInput
            ref={field}
            aria-label="Name of the scene"
            value={name}
            onChange={(e) => setName(e.target.value)}
          />
        </Flex>
        <Flex align="center" gap="2">
          <Text width="70px" fontWeight={600}>
            Frame
          </Text>
          <Choice
            label="Frame of the scene"
            value={frame}
            options={[
              ["scene", `${scene.width} × ${scene.height} px`],
              ["tight", "What is seen of them"],
            ]}
            onChange={setFrame}
          />
        </Flex>
        {frame === "tight" && (
          <Flex align="center" gap="2">
            <Text width="70px" fontWeight={600}>
              Margin
            </Text>
            <TextInput
              aria-label="Margin in pixels"
              inputMode="numeric"
              value={margin}
              onChange={(e) => setMargin(e.target.value)}
            />
            <Text color={fits ? "quiet" : "finding"}>px, 0 to 4000</Text>
          </Flex>
        )}
        <Flex justify="flex-end" gap="2">
          <Pill type="button" onClick={() => setPage({ dialog: null })}>
            Cancel
          </Pill>
          <Pill type="submit" look="act" disabled={!fits}>
            Put into a scene
          </Pill>
        </Flex>
      </Flex>
    </form>
  );
}
