import { useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { api, type Explanation as Numbers, need } from "../api/client";
import { Window } from "../fields/Window";
import type { Point } from "../geometry/layerGeometry";
import { Select } from "../parts/Select";
import { Box, Flex, Text } from "../parts/styled";
import { useSession } from "../session/session";
import { useScene } from "../session/useScene";
import { useSelection } from "../state/selection";
import { roleColour } from "../theme/theme";

/** The anchor explained: both coordinate spaces drawn, and the calculation behind them with the numbers of this frame. */
export function ExplainDialog() {
  return (
    <Window name="explain" title="Anchor and position: two spaces, one calculation" width="1000px">
      <Explanation />
    </Window>
  );
}

const two = (n: number) => String(Math.round(n * 100) / 100 + 0);
const pair = ([x, y]: Point) => `(${two(x)}, ${two(y)})`;

/** The corners of the box, round it. */
const CORNERS = ["top left", "top right", "bottom right", "bottom left"];

function Explanation() {
  const session = useSession();
  const { scene, revision } = useScene();
  const selected = useSelection((state) => state.selected);
  const [station, setStation] = useState("bottom right");
  const [frame, setFrame] = useState(session.frames.frame);
  useEffect(() => session.frames.subscribeCalmly(() => setFrame(session.frames.frame)), [session]);
  const layer = selected.length === 1 ? session.layer(selected[0]) : undefined;
  const { data: numbers, error } = useQuery({
    queryKey: ["explain", session.sceneId, layer?.id, revision, frame],
    enabled: layer !== undefined,
    placeholderData: (before) => before,
    queryFn: () =>
      need(
        api.GET("/api/scenes/{scene_id}/layers/{layer_id}/explain", {
          params: { path: { scene_id: session.sceneId, layer_id: layer!.id! }, query: { frame } },
        }),
      ) as Promise<Numbers>,
  });
  if (!layer) return <Text>Select one layer to see its numbers.</Text>;
  if (error) return <Text>{error.message}</Text>;
  if (!numbers) return <Text>The numbers are being fetched…</Text>;
  const { anchor, position, scale, rotation, carrier, place } = numbers;
  const point = numbers.points.find((point) => point.station === station) ?? numbers.points[0];
  const corners = CORNERS.map((name) => numbers.points.find((point) => point.station === name)!);
  return (
    <Box fontSize="title">
      <Text mb="3">
        <b>Position</b> is measured in {carrier ? `“${carrier}”, which carries it` : "the scene"}: it says where the
        anchor of “{layer.name}” stands. <b>Anchor</b> is measured in the layer: it says which point of it stands there.
        So a larger anchor x moves the picture to the left, and a position of half the frame puts the anchor, whichever
        point it is, in the middle.
      </Text>
      <Flex gap="4">
        <Space
          title="In the layer"
          note={`Anchor ${pair(anchor.layer)} px, ${anchor.fraction.map((share) => `${two(share * 100)} %`).join(" ")}`}
        >
          <LayerDrawing corners={corners.map((corner) => corner.layer)} anchor={anchor.layer} point={point.layer} />
        </Space>
        <Space
          title="In the scene"
          note={
            carrier
              ? `Position ${pair(position)} px in “${carrier}”, ${pair(place)} px here`
              : `Position ${pair(position)} px`
          }
        >
          <SceneDrawing
            size={[scene.width, scene.height]}
            corners={corners.map((corner) => corner.scene)}
            anchor={place}
            point={point.scene}
          />
        </Space>
      </Flex>
      <Flex align="center" gap="2" mt="3" mb="2">
        <Text>Follow the point</Text>
        <Select
          label="Follow the point"
          width="130px"
          stays
          value={point.station}
          options={numbers.points.map((one) => one.station)}
          onChange={setStation}
        />
        <Text color="quiet">from the layer into the scene:</Text>
      </Flex>
      <Box bg="panel" borderRadius="10px" p="3" fontVariantNumeric="tabular-nums" data-testid="sum">
        <Line left={carrier ? "carried" : "scene"} right="position + R·S·(layer − anchor)" />
        <Line left="" right={`${pair(position)} + R·S·(${pair(point.layer)} − ${pair(anchor.layer)})`} />
        <Line
          left=""
          right={`${pair(position)} + turned by ${two(rotation)}° and scaled by ${two(scale[0])} %, ${two(scale[1])} %: ${pair(point.arm)} becomes ${pair(point.turned)}`}
        />
        {carrier && point.carried ? (
          <>
            <Line left="" right={`${pair(point.carried)}, in the pixels of “${carrier}”, which carries it`} />
            <Line left="scene" right={`where “${carrier}” has that point: ${pair(point.scene)}`} strong />
          </>
        ) : (
          <Line left="" right={pair(point.scene)} strong />
        )}
      </Box>
      <Text color="quiet" mt="3">
        When the anchor moves and the <b>picture stays put</b>, position changes by R·S·(new anchor − old anchor), which
        is why both change in one drag. When the <b>anchor stays put</b>, position is left alone and the picture slides.
      </Text>
    </Box>
  );
}

function Line({ left, right, strong }: { left: string; right: string; strong?: boolean }) {
  return (
    <Flex gap="2">
      <Text width="48px" color="quiet">
        {left}
      </Text>
      <Text color="quiet">=</Text>
      <Text fontWeight={strong ? 700 : 500}>{right}</Text>
    </Flex>
  );
}

function Space({ title, note, children }: { title: string; note: string; children: React.ReactNode }) {
  return (
    <Box flex="1" minWidth="0">
      <Text fontWeight={700}>{title}</Text>
      {children}
      <Text color="quiet" fontSize="row">
        {note}
      </Text>
    </Box>
  );
}

const ROOM: Point = [450, 250];

/** A drawing fitted into its room: `place` takes numbers of the space to it. */
function fitted(low: Point, high: Point) {
  const size: Point = [Math.max(high[0] - low[0], 1), Math.max(high[1] - low[1], 1)];
  const k = Math.min((ROOM[0] - 60) / size[0], (ROOM[1] - 56) / size[1]);
  const place = ([x, y]: Point): Point => [
    ROOM[0] / 2 + (x - (low[0] + high[0]) / 2) * k,
    ROOM[1] / 2 + (y - (low[1] + high[1]) / 2) * k,
  ];
  return place;
}

interface LayerProps {
  corners: Point[];
  anchor: Point;
  point: Point;
}

function LayerDrawing({ corners, anchor, point }: LayerProps) {
  const all: Point[] = [...corners, anchor, [0, 0]];
  const along = (axis: 0 | 1) => all.map((one) => one[axis]);
  const place = fitted([Math.min(...along(0)), Math.min(...along(1))], [Math.max(...along(0)), Math.max(...along(1))]);
  return <Drawing place={place} corners={corners} origin={[0, 0]} anchor={anchor} point={point} />;
}

interface SceneProps {
  size: Point;
  corners: Point[];
  anchor: Point;
  point: Point;
}

function SceneDrawing({ size, corners, anchor, point }: SceneProps) {
  const all = [...corners, anchor];
  const along = (axis: 0 | 1) => all.map((one) => one[axis]);
  const low: Point = [Math.min(0, ...along(0)), Math.min(0, ...along(1))];
  const high: Point = [Math.max(size[0], ...along(0)), Math.max(size[1], ...along(1))];
  return (
    <Drawing place={fitted(low, high)} corners={corners} frame={size} origin={[0, 0]} anchor={anchor} point={point} />
  );
}

interface DrawingProps {
  place: (point: Point) => Point;
  corners: Point[];
  frame?: Point;
  origin: Point;
  anchor: Point;
  point: Point;
}

function Drawing({ place, corners, frame, origin, anchor, point }: DrawingProps) {
  const pointList = (points: Point[]) => points.map((point) => place(point).join()).join(" ");
  const [ox, oy] = place(origin);
  const [ax, ay] = place(anchor);
  const [px, py] = place(point);
  return (
    <svg
      viewBox={`0 0 ${ROOM[0]} ${ROOM[1]}`}
      width="100%"
      role="img"
      aria-label="The space drawn"
      style={{ display: "block" }}
    >
      <rect width={ROOM[0]} height={ROOM[1]} rx="10" fill={roleColour("panel")} />
      {frame && (
        <polygon
          points={pointList([[0, 0], [frame[0], 0], frame, [0, frame[1]]])}
          fill={roleColour("well")}
          stroke={roleColour("edge")}
        />
      )}
      <polygon points={pointList(corners)} fill={roleColour("actWash")} stroke={roleColour("act")} fillOpacity="0.8" />
      <path
        d={`M${ox} ${oy}h26M${ox + 22} ${oy - 3}l5 3l-5 3M${ox} ${oy}v26M${ox - 3} ${oy + 22}l3 5l3-5`}
        fill="none"
        stroke={roleColour("ink")}
      />
      <text x={ox + 30} y={oy + 4} style={{ fontSize: 11 }} fill={roleColour("ink")}>
        x
      </text>
      <text x={ox - 3} y={oy + 39} style={{ fontSize: 11 }} fill={roleColour("ink")}>
        y
      </text>
      <path d={`M${ox} ${oy}L${ax} ${ay}`} stroke={roleColour("anchor")} strokeDasharray="4 3" />
      <path d={`M${ax} ${ay}L${px} ${py}`} stroke={roleColour("position")} strokeWidth="1.5" />
      <circle cx={px} cy={py} r="4" fill={roleColour("position")} />
      <circle cx={ax} cy={ay} r="6" fill={roleColour("anchor")} stroke={roleColour("well")} strokeWidth="2" />
    </svg>
  );
}
