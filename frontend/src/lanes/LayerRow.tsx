import { Box, chakra, Flex, Menu, Portal, Text } from "@chakra-ui/react";
import { ChevronDown, ChevronRight, Ellipsis, Eye, EyeOff, Lock } from "lucide-react";
import { useState } from "react";
import type { Layer, Scene } from "../api/client";
import { KindIcon } from "../parts/icons";
import { choices, choose, select, useChoices } from "../scene/choices";
import { factsOf, keyFrames, kindOf, labelOf, poseFrames, tracksOf, useFacts } from "../scene/document";
import { useSession } from "../scene/session";
import { useFrameDrag } from "./drag";
import { NAMES } from "./Lanes";
import { PebbleMark } from "./PebbleMark";

interface Props {
  layer: Layer;
  scene: Scene;
  frameWidth: number;
}

/** A layer's row: what it is, its span, all its keys; opened, a lane for each keyed property. */
export function LayerRow({ layer, scene, frameWidth }: Props) {
  const session = useSession();
  const facts = useFacts();
  const id = layer.id!;
  const selected = useChoices((state) => state.selected.includes(id));
  const opened = useChoices((state) => state.opened[id] ?? false);
  const [renaming, setRenaming] = useState(false);
  const keyed = Object.entries(tracksOf(layer)).filter(([, track]) => track.keys?.length);
  const visible = layer.visible !== false;

  const pick = (event: React.MouseEvent) => {
    if (!event.shiftKey) select(id);
    else {
      const { selected: before } = choices();
      select(...(before.includes(id) ? before.filter((one) => one !== id) : [...before, id]));
    }
  };

  return (
    <Box role="listitem" aria-label={layer.name} data-selected={selected ? "yes" : ""} data-testid="layer-row">
      <Flex height="27px" borderBottomWidth="1px" borderColor="edge" bg={selected ? "actWash" : undefined}>
        <Flex
          width={`${NAMES}px`}
          flex="none"
          align="center"
          gap="1.5"
          px="2"
          borderRightWidth="1px"
          borderColor="edge"
          onClick={pick}
          cursor="default"
        >
          <Icon
            label={visible ? `Hide ${layer.name}` : `Show ${layer.name}`}
            onClick={() => void session.edit({ edit: "set_visible", layers: [id], visible: !visible })}
            color={visible ? "act" : "quiet"}
          >
            {visible ? <Eye size={14} /> : <EyeOff size={14} />}
          </Icon>
          <Icon
            label={opened ? `Close the lanes of ${layer.name}` : `Open the lanes of ${layer.name}`}
            disabled={!keyed.length}
            onClick={() => choose((state) => ({ opened: { ...state.opened, [id]: !opened } }))}
          >
            {opened ? <ChevronDown size={13} /> : <ChevronRight size={13} />}
          </Icon>
          <KindIcon kind={layer.content.kind!} size={13} />
          {renaming ? (
            <chakra.input
              autoFocus
              aria-label="Layer name"
              defaultValue={layer.name}
              flex="1"
              minWidth="0"
              bg="well"
              borderWidth="1px"
              borderColor="act"
              borderRadius="5px"
              px="1"
              onFocus={(event) => event.currentTarget.select()}
              onKeyDown={(event) => {
                event.stopPropagation();
                if (event.key === "Escape") event.currentTarget.value = layer.name;
                if (event.key === "Enter" || event.key === "Escape") event.currentTarget.blur();
              }}
              onBlur={(event) => {
                setRenaming(false);
                const name = event.currentTarget.value;
                if (name !== layer.name) void session.edit({ edit: "rename_layer", layer: id, name });
              }}
            />
          ) : (
            <chakra.button
              type="button"
              flex="1"
              minWidth="0"
              textAlign="left"
              truncate
              fontWeight={selected ? 700 : 500}
              opacity={visible ? 1 : 0.55}
              onDoubleClick={() => setRenaming(true)}
              _focusVisible={{ outline: "2px solid", outlineColor: "act" }}
            >
              {layer.name}
            </chakra.button>
          )}
          {layer.locked && (
            <Icon
              label={`Unlock ${layer.name}`}
              onClick={() => void session.edit({ edit: "set_locked", layers: [id], locked: false })}
            >
              <Lock size={12} />
            </Icon>
          )}
          <Text color={selected ? "ink" : "quiet"} fontSize="11.5px" whiteSpace="nowrap">
            {kindOf(layer)}
          </Text>
          <LayerMenu layer={layer} scene={scene} rename={() => setRenaming(true)} />
        </Flex>
        <Box flex="1" position="relative" overflow="hidden">
          <SpanBar layer={layer} frameWidth={frameWidth} selected={selected} />
          {poseFrames(layer).map((frame) => (
            <PebbleMark
              key={frame}
              frame={frame}
              frameWidth={frameWidth}
              tone="ink"
              small
              label={`Keys of ${layer.name} at frame ${frame}`}
              refs={keyed
                .filter(([, track]) => keyFrames(layer, track).includes(frame))
                .map(([property]) => ({ layer: id, property, frame }))}
            />
          ))}
        </Box>
      </Flex>
      {opened &&
        keyed.map(([name, track]) => (
          <Flex key={name} height="25px" borderBottomWidth="1px" borderColor="edge" data-testid={`lane-${name}`}>
            <Flex width={`${NAMES}px`} flex="none" align="center" pl="62px" borderRightWidth="1px" borderColor="edge">
              <Text color={factsOf(name, facts).role} fontWeight={600} fontSize="12.5px">
                {labelOf(name, facts)}
              </Text>
            </Flex>
            <Box flex="1" position="relative" overflow="hidden">
              <Joins frames={keyFrames(layer, track)} frameWidth={frameWidth} tone={factsOf(name, facts).role} />
              {keyFrames(layer, track).map((frame) => (
                <PebbleMark
                  key={frame}
                  frame={frame}
                  frameWidth={frameWidth}
                  tone={factsOf(name, facts).role}
                  label={`Key of ${labelOf(name, facts)} at frame ${frame}`}
                  refs={[{ layer: id, property: name, frame }]}
                />
              ))}
            </Box>
          </Flex>
        ))}
    </Box>
  );
}

function Joins({ frames, frameWidth, tone }: { frames: number[]; frameWidth: number; tone: string }) {
  if (frames.length < 2) return null;
  const left = 10 + (frames[0] + 0.5) * frameWidth;
  const right = 10 + (frames.at(-1)! + 0.5) * frameWidth;
  return (
    <Box
      position="absolute"
      top="12px"
      left={`${left}px`}
      width={`${right - left}px`}
      borderTopWidth="1.5px"
      borderColor={tone}
      opacity={0.6}
    />
  );
}

/** A span: drag its middle to move it with its keys, its ends to trim. */
function SpanBar({ layer, frameWidth, selected }: { layer: Layer; frameWidth: number; selected: boolean }) {
  const session = useSession();
  const begin = useFrameDrag(frameWidth);
  const [preview, setPreview] = useState<{ start: number; length: number } | null>(null);
  const span = preview ?? layer.span;
  const id = layer.id!;

  const drag = (change: (by: number) => { start: number; length: number }, move: boolean) => {
    const edit = (by: number) => {
      const next = change(by);
      return move
        ? { edit: "move_span" as const, layer: id, start: next.start }
        : { edit: "trim_span" as const, layer: id, ...next };
    };
    return {
      move: (by: number) => {
        setPreview(change(by));
        session.try([edit(by)]);
      },
      end: (by: number) => void session.edit(edit(by)).finally(() => setPreview(null)),
      cancel: () => {
        setPreview(null);
        session.cancel();
      },
    };
  };
  const { start, length } = layer.span;
  const grip = {
    position: "absolute",
    top: 0,
    bottom: 0,
    width: "7px",
    cursor: "col-resize",
    borderRadius: "5px",
  } as const;
  const pick = (event: React.PointerEvent) => !event.shiftKey && !choices().selected.includes(id) && select(id);
  return (
    <Box
      role="group"
      data-testid="span"
      data-start={span.start}
      data-length={span.length}
      aria-label={`Span of ${layer.name}: frames ${span.start} to ${span.start + span.length - 1}`}
      position="absolute"
      top="5px"
      height="16px"
      left={`${10 + span.start * frameWidth}px`}
      width={`${Math.max(span.length * frameWidth, 3)}px`}
      borderRadius="6px"
      borderWidth="1px"
      borderColor={selected ? "act" : "quiet"}
      bg="actWash"
      cursor="grab"
      opacity={layer.visible === false ? 0.4 : 1}
      onPointerDown={(event) => {
        pick(event);
        if (!layer.locked)
          begin(
            event,
            drag((by) => ({ start: start + by, length }), true),
          );
      }}
    >
      <Box
        {...grip}
        left="0"
        data-testid="span-start"
        _hover={{ bg: "act" }}
        onPointerDown={(event) => {
          pick(event);
          const most = length - 1;
          if (!layer.locked)
            begin(
              event,
              drag((by) => ({ start: start + Math.min(by, most), length: length - Math.min(by, most) }), false),
            );
        }}
      />
      <Box
        {...grip}
        right="0"
        data-testid="span-end"
        _hover={{ bg: "act" }}
        onPointerDown={(event) => {
          pick(event);
          if (!layer.locked)
            begin(
              event,
              drag((by) => ({ start, length: Math.max(length + by, 1) }), false),
            );
        }}
      />
    </Box>
  );
}

function Icon({
  label,
  onClick,
  children,
  color = "quiet",
  disabled,
}: {
  label: string;
  onClick: () => void;
  children: React.ReactNode;
  color?: string;
  disabled?: boolean;
}) {
  return (
    <chakra.button
      type="button"
      aria-label={label}
      title={label}
      disabled={disabled}
      color={color}
      cursor="pointer"
      flex="none"
      _disabled={{ opacity: 0.25, cursor: "default" }}
      _focusVisible={{ outline: "2px solid", outlineColor: "act" }}
      onClick={(event) => {
        event.stopPropagation();
        onClick();
      }}
    >
      {children}
    </chakra.button>
  );
}

function LayerMenu({ layer, scene, rename }: { layer: Layer; scene: Scene; rename: () => void }) {
  const session = useSession();
  const id = layer.id!;
  const place = (scene.layers ?? []).findIndex((one) => one.id === id);
  const acts: [string, () => void][] = [
    ["Rename", () => setTimeout(rename, 80)], // once the closing menu has given the focus back
    ["Duplicate", () => void session.edit({ edit: "duplicate_layers", layers: [id] })],
    ["Bring forward", () => void session.edit({ edit: "reorder_layer", layer: id, to: place + 1 })],
    ["Send back", () => void session.edit({ edit: "reorder_layer", layer: id, to: place - 1 })],
    [
      layer.locked ? "Unlock" : "Lock",
      () => void session.edit({ edit: "set_locked", layers: [id], locked: !layer.locked }),
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
          <Menu.Content bg="paper" borderWidth="1px" borderColor="edge" minWidth="150px">
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
