import { useQuery } from "@tanstack/react-query";
import { useCallback, useEffect, useRef, useState } from "react";
import { api, need } from "../api/client";
import { TimeField } from "../fields/TimeField";
import { anchorAt } from "../geometry/layerGeometry";
import { timecode } from "../geometry/times";
import { Painter } from "../paint/painter";
import { Choice } from "../parts/Choice";
import { Pill } from "../parts/Pill";
import { Box, Flex, Text } from "../parts/styled";
import { useSession } from "../session/session";
import { useScene } from "../session/useScene";
import { type Compared, setSceneView, useSceneView } from "../state/sceneView";
import { useSelection } from "../state/selection";
import { type CompareWay, setViewSettings, useViewSettings } from "../state/viewSettings";
import { CHEQUER, roleColour } from "../theme/theme";
import { type Shown, useOther } from "./useOther";
import { WipeEdge } from "./WipeEdge";

const WAYS: [CompareWay, string][] = [
  ["beside", "Side by side"],
  ["wipe", "Wipe"],
  ["difference", "Difference"],
  ["onion", "Onion"],
];

/** Two pictures of the scene in step: as it stands (A), and with another motion of a layer or at another moment (B). */
export function Compare() {
  const compare = useSceneView((state) => state.compare);
  const session = useSession();
  if (!compare || ("layer" in compare && !session.layer(compare.layer))) return null;
  return <Both compared={compare} />;
}

function Both({ compared }: { compared: Compared }) {
  const session = useSession();
  const { scene } = useScene();
  const way = useViewSettings((state) => state.compareWay);
  const selected = useSelection((state) => state.selected);
  const [edge, setEdge] = useState(0.5);
  const a = useRef<HTMLCanvasElement>(null);
  const b = useRef<HTMLCanvasElement>(null);
  const told = useCallback(() => session.frames.touch(), [session]);
  const other = useOther(compared, told);
  const marked = "layer" in compared ? compared.layer : (selected[0] ?? "");

  useEffect(() => {
    const painter = new Painter(session.pictures, session.frames.outlines);
    const paint = () => {
      const { frames } = session;
      const { frame } = frames;
      if (!frames.has(frame) || !a.current || !b.current) return;
      const mine = frames.order.map((id) => frames.layer(id)).filter((layer) => layer !== undefined);
      const anchors: [Shown, string | undefined][] = [[{ frame, layers: mine }, marked]];
      const theirs = other?.at(frame);
      if (theirs) anchors.push([theirs, marked]);
      for (const [canvas, shown] of [
        [a.current, anchors[0][0]],
        [b.current, theirs],
      ] as const) {
        canvas.dataset.painted = "";
        if (!shown) continue;
        const context = canvas.getContext("2d")!;
        painter.paint(context, scene.background ?? "#00000000", shown.layers, shown.frame);
        canvas.dataset.painted = `${shown.frame}`;
      }
      const places = [frames.layer(marked), theirs && otherLayer(theirs, session, marked)];
      for (const [canvas, layer, at] of [
        [a.current, places[0], frame],
        [b.current, places[1], theirs?.frame ?? frame],
      ] as const)
        place(canvas, layer ? anchorAt(layer, at) : null, [scene.width, scene.height]);
    };
    paint();
    const stop = session.frames.subscribe(paint);
    return () => stop();
  }, [session, scene.background, scene.width, scene.height, other, marked]);

  const names = namesOf(compared, session, scene);
  const sides = [
    { ref: a, which: "used", name: names[0], ink: "anchorInk" },
    { ref: b, which: "beside", name: names[1], ink: "act" },
  ];
  const ratio = `${scene.width} / ${scene.height}`;
  const size = { width: scene.width, height: scene.height };
  const over: Record<CompareWay, React.CSSProperties> = {
    beside: {},
    wipe: { clipPath: `inset(0 0 0 ${edge * 100}%)` },
    difference: { mixBlendMode: "difference" },
    onion: { opacity: 0.5 },
  };
  const beside = way === "beside";
  return (
    <Flex
      data-testid="compare"
      position="absolute"
      inset="0"
      direction="column"
      bg="surround"
      p="3"
      gap="2"
      zIndex="1"
      onPointerDown={(event) => event.stopPropagation()}
    >
      <Flex gap="2" align="center" wrap="wrap">
        <Box bg="paper" borderRadius="full">
          <Choice
            label="How they are compared"
            value={way}
            options={WAYS}
            onChange={(compareWay) => setViewSettings({ compareWay })}
          />
        </Box>
        {"moment" in compared && (
          <Flex align="center" gap="1.5" bg="paper" borderRadius="full" px="2.5">
            <Text fontSize="row">The other at</Text>
            <TimeField
              label="The other moment"
              frame={compared.moment}
              most={scene.length - 1}
              keep={(moment) => setSceneView({ compare: { moment } })}
            />
            <Pill
              height="control"
              label="This one: compare with the moment shown now"
              onClick={() => setSceneView({ compare: { moment: session.frames.frame } })}
            >
              This one
            </Pill>
          </Flex>
        )}
        <Pill ml="auto" height="24px" onClick={() => setSceneView({ compare: null })} title="Back to the stage">
          Back to the stage
        </Pill>
      </Flex>
      <Flex gap="3" flex="1" minHeight="0" align="center" justify="center">
        <Box
          position="relative"
          display={beside ? "flex" : "block"}
          gap="3"
          css={
            beside
              ? { width: "100%" }
              : { aspectRatio: ratio, maxWidth: "100%", maxHeight: "100%", height: "100%", isolation: "isolate" }
          }
        >
          {sides.map(({ ref, which, name, ink }, index) => (
            <Box
              key={which}
              flex="1"
              minWidth="0"
              position={beside ? "relative" : "absolute"}
              inset={beside ? undefined : "0"}
              style={index ? over[way] : undefined}
            >
              {beside && <Name text={name} />}
              <Box position="relative">
                <canvas
                  ref={ref}
                  {...size}
                  data-testid={`variant-${which}`}
                  style={{ width: "100%", display: "block", background: way === "difference" ? "#000" : CHEQUER }}
                />
                {way !== "difference" && <AnchorCross ink={ink} />}
              </Box>
            </Box>
          ))}
          {!beside && (
            <Flex position="absolute" top="2" left="2" right="2" justify="space-between" pointerEvents="none">
              <Name text={names[0]} />
              <Name text={names[1]} />
            </Flex>
          )}
          {way === "wipe" && <WipeEdge at={edge} set={setEdge} />}
        </Box>
      </Flex>
      {"layer" in compared && <Differences layer={compared.layer} name={compared.name} />}
    </Flex>
  );
}

const otherLayer = ({ layers }: Shown, session: ReturnType<typeof useSession>, id: string) =>
  layers.length === session.frames.order.length ? layers[session.frames.order.indexOf(id)] : undefined;

/** Put the cross of an anchor where it lies on the picture before it, or hide it. */
function place(canvas: HTMLCanvasElement, at: [number, number] | null, [width, height]: [number, number]) {
  const cross = canvas.nextElementSibling as HTMLElement | null;
  if (!cross) return;
  cross.style.display = at ? "" : "none";
  if (!at) return;
  cross.dataset.scene = at.map((n) => n.toFixed(2)).join();
  cross.style.left = `${(at[0] / width) * 100}%`;
  cross.style.top = `${(at[1] / height) * 100}%`;
}

function AnchorCross({ ink }: { ink: string }) {
  return (
    <svg
      data-testid="compared-anchor"
      width="22"
      height="22"
      viewBox="-11 -11 22 22"
      style={{ position: "absolute", margin: "-11px 0 0 -11px", pointerEvents: "none", overflow: "visible" }}
      aria-hidden
    >
      <path d="M-10 0h20M0-10v20" stroke={roleColour("markHalo")} strokeWidth="4" />
      <path d="M-10 0h20M0-10v20" stroke={roleColour(ink)} strokeWidth="1.6" />
      <circle r="4.5" fill="none" stroke={roleColour(ink)} strokeWidth="1.6" />
    </svg>
  );
}

function Name({ text }: { text: string }) {
  return (
    <Text fontWeight={700} mb="1" bg="paper" display="inline-block" px="2.5" borderRadius="full" fontSize="row">
      {text}
    </Text>
  );
}

function namesOf(
  compared: Compared,
  session: ReturnType<typeof useSession>,
  scene: { frame_rate?: number[] },
): [string, string] {
  if ("moment" in compared) return ["now", timecode(compared.moment, scene as Parameters<typeof timecode>[1])];
  return [`${session.layer(compared.layer)!.variant} · in use`, `variant ${compared.name}`];
}

/** What two motions of a layer differ in, a sentence each. */
function Differences({ layer, name }: { layer: string; name: string }) {
  const session = useSession();
  const { revision } = useScene();
  const path = { scene_id: session.sceneId, layer_id: layer, name };
  const { data: differences = [], error } = useQuery({
    queryKey: ["differences", layer, name, revision],
    queryFn: () =>
      need(api.GET("/api/scenes/{scene_id}/layers/{layer_id}/variants/{name}/differences", { params: { path } })),
    placeholderData: (before) => before,
  });
  useEffect(() => {
    if (error) setSceneView({ compare: null });
  }, [error]);
  return (
    <Box bg="paper" borderRadius="10px" px="3" py="1.5" maxHeight="92px" overflowY="auto" data-testid="differences">
      {!differences.length && <Text color="quiet">They do not differ yet.</Text>}
      {differences.map((sentence) => (
        <Text key={sentence} fontSize="row">
          {sentence}
        </Text>
      ))}
    </Box>
  );
}
