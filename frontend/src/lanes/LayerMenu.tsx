import { chakra, Menu, Portal } from "@chakra-ui/react";
import { Ellipsis } from "lucide-react";
import type { Layer } from "../api/client";
import { choose, select } from "../scene/choices";
import { useScene } from "../scene/document";
import { useSession } from "../scene/session";
import { pasteKeys } from "./keys";

/** What can be done with a layer as a whole. */
export function LayerMenu({ layer, rename }: { layer: Layer; rename: () => void }) {
  const session = useSession();
  const { scene } = useScene();
  const id = layer.id!;
  const place = (scene.layers ?? []).findIndex((one) => one.id === id);
  const trim = (start: number, end: number) =>
    void session.edit({ edit: "trim_span", layer: id, start, length: end - start });
  const { start, length } = layer.span;
  const acts: [string, () => void][] = [
    ["Rename", () => setTimeout(rename, 80)], // once the closing menu has given the focus back
    ["Duplicate", () => void session.edit({ edit: "duplicate_layers", layers: [id] })],
    ["Bring forward", () => void session.edit({ edit: "reorder_layer", layer: id, to: place + 1 })],
    ["Send back", () => void session.edit({ edit: "reorder_layer", layer: id, to: place - 1 })],
    [
      layer.locked ? "Unlock" : "Lock",
      () => void session.edit({ edit: "set_locked", layers: [id], locked: !layer.locked }),
    ],
    [
      "Solo",
      () => choose(({ solo }) => ({ solo: solo.includes(id) ? solo.filter((one) => one !== id) : [...solo, id] })),
    ],
    ["Start at the playhead", () => trim(session.frames.frame, start + length)],
    ["End at the playhead", () => trim(start, session.frames.frame + 1)],
    [
      "Split at the playhead",
      () => void session.edit({ edit: "split_layer", layer: id, frame: session.frames.frame } as never),
    ],
    [
      "Paste keys here",
      () => {
        select(id);
        pasteKeys(session);
      },
    ],
    ["Delete", () => void session.edit({ edit: "delete_layers", layers: [id] })],
  ];
  return (
    <Menu.Root lazyMount unmountOnExit>
      <Menu.Trigger asChild>
        <chakra.button
          type="button"
          aria-label={`More for ${layer.name}`}
          title="More"
          color="quiet"
          cursor="pointer"
          onClick={(event) => event.stopPropagation()}
        >
          <Ellipsis size={14} />
        </chakra.button>
      </Menu.Trigger>
      <Portal>
        <Menu.Positioner>
          <Menu.Content bg="paper" borderWidth="1px" borderColor="edge" minWidth="170px">
            {acts.map(([text, act]) => (
              <Menu.Item key={text} value={text} onClick={act} color="ink" cursor="pointer">
                {text}
              </Menu.Item>
            ))}
          </Menu.Content>
        </Menu.Positioner>
      </Portal>
    </Menu.Root>
  );
}
