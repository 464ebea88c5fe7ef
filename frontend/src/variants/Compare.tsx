import { useQuery } from "@tanstack/react-query";
import { useEffect, useRef } from "react";
import { type LayerArrays, type ResolvedMessage, unpack } from "../api/arrays";
import { api, need } from "../api/client";
import { PIECE } from "../document/frames";
import { Painter } from "../paint/painter";
import { Pill } from "../parts/Pill";
import { Box, Flex, Text } from "../parts/styled";
import { useSession } from "../session/session";
import { useScene } from "../session/useScene";
import { setSceneView, useSceneView } from "../state/sceneView";
import { CHEQUER } from "../theme/theme";

/** Two variants of a layer's motion side by side, in step: the one in use (A) and another (B), and what differs. */
export function Compare() {
  const compare = useSceneView((state) => state.compare);
  const session = useSession();
  if (!compare || !session.layer(compare.layer)) return null;
  return <Both key={`${compare.layer}${compare.name}`} layer={compare.layer} name={compare.name} />;
}

function Both({ layer, name }: { layer: string; name: string }) {
  const session = useSession();
  const { scene, revision } = useScene();
  const used = session.layer(layer)!.variant!;
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
  const a = useRef<HTMLCanvasElement>(null);
  const b = useRef<HTMLCanvasElement>(null);

  useEffect(() => {
    const pieces = new Map<number, LayerArrays | null>();
    const painter = new Painter(session.pictures, session.frames.outlines);
    let gone = false;
    const other = (frame: number): LayerArrays | null => {
      const index = Math.floor(frame / PIECE);
      if (!pieces.has(index)) {
        pieces.set(index, null);
        const query = new URLSearchParams({
          from: String(index * PIECE),
          to: String((index + 1) * PIECE),
          layers: layer,
          variant: name,
        });
        void fetch(`/api/scenes/${session.sceneId}/resolved?${query}&revision=${revision}`)
          .then((answer) => answer.arrayBuffer())
          .then((buffer) => {
            if (gone) return;
            const message = unpack(buffer) as ResolvedMessage;
            for (const [glyph, outline] of Object.entries(message.outlines))
              session.frames.outlines.set(glyph, outline);
            pieces.set(index, message.layers[layer]);
            paint();
          });
      }
      return pieces.get(index) ?? null;
    };
    const paint = () => {
      const { frames } = session;
      const { frame } = frames;
      if (!frames.has(frame) || !a.current || !b.current) return;
      const mine = frames.order.map((id) => frames.layer(id));
      const theirs = frames.order.map((id) => (id === layer ? (other(frame) ?? undefined) : frames.layer(id)));
      for (const [canvas, layers] of [
        [a.current, mine],
        [b.current, theirs],
      ] as const) {
        const there = layers.filter((layer) => layer !== undefined);
        painter.paint(canvas.getContext("2d")!, scene.background ?? "#00000000", there, frame);
        canvas.dataset.painted = layers.length === there.length ? `${frame}` : "";
      }
    };
    paint();
    const stop = session.frames.subscribe(paint);
    return () => {
      gone = true;
      stop();
    };
  }, [session, scene.background, layer, name, revision]);

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
      <Flex gap="3" flex="1" minHeight="0" align="center" justify="center">
        {(
          [
            [a, `${used} · in use`, "used"],
            [b, name, "beside"],
          ] as const
        ).map(([ref, text, which]) => (
          <Box key={which} flex="1" minWidth="0">
            <Text fontWeight={700} mb="1" bg="paper" display="inline-block" px="2.5" borderRadius="full" fontSize="row">
              {text}
            </Text>
            <canvas
              ref={ref}
              width={scene.width}
              height={scene.height}
              data-testid={`variant-${which}`}
              style={{ width: "100%", display: "block", background: CHEQUER }}
            />
          </Box>
        ))}
      </Flex>
      <Box bg="paper" borderRadius="10px" px="3" py="1.5" maxHeight="92px" overflowY="auto" data-testid="differences">
        {!differences.length && <Text color="quiet">They do not differ yet.</Text>}
        {differences.map((sentence) => (
          <Text key={sentence} fontSize="row">
            {sentence}
          </Text>
        ))}
      </Box>
      <Pill
        position="absolute"
        top="2"
        right="2"
        height="24px"
        onClick={() => setSceneView({ compare: null })}
        title="Back to the stage"
      >
        Back to the stage
      </Pill>
    </Flex>
  );
}
