import { isKeyed } from "../document/tracks";
import { Box } from "../parts/styled";
import { useSession } from "../session/session";
import { useScene } from "../session/useScene";
import { useSelection } from "../state/selection";
import { useTools } from "../state/tools";
import { useViewSettings } from "../state/viewSettings";
import { CHEQUER, roleColour } from "../theme/theme";
import { BeforeWipe } from "./BeforeWipe";
import { BlurNote } from "./BlurNote";
import { DrawNote } from "./DrawNote";
import { InnerNote } from "./InnerNote";
import { InsideNote } from "./InsideNote";
import { LookingGlass } from "./LookingGlass";
import { Overlay } from "./Overlay";
import { Rate } from "./PlayRate";
import { PointerColour } from "./PointerColour";
import { SceneRulers } from "./SceneRulers";
import { Scopes } from "./Scopes";
import { SlipNote } from "./SlipNote";
import { SoloNote } from "./SoloNote";
import { Surroundings, useSurroundings } from "./Surroundings";
import { openSelectedMenu, openStageMenu } from "./stageMenu";
import { TextInPlace } from "./TextInPlace";
import { useGhosts } from "./useGhosts";
import { useMarks } from "./useMarks";
import { usePicture } from "./usePicture";
import { usePointedAt } from "./usePointedAt";
import { usePress } from "./usePress";
import { useStageView } from "./useStageView";
import { ZoomCorner } from "./ZoomCorner";

/** A tick in each corner of the stage that has the keyboard. */
const TICKS = ["0 0", "100% 0", "0 100%", "100% 100%"]
  .flatMap((corner) => ["26px 2px", "2px 26px"].map((size) => [corner, size]))
  .map(([corner, size]) => `linear-gradient(${roleColour("act")} 0 0) ${corner} / ${size} no-repeat`)
  .join(", ");

/** The stage: the picture at the scene's own size, painted from resolved arrays, and the hands on it. */
export function Stage() {
  const session = useSession();
  const { scene } = useScene();
  const surround = useViewSettings((state) => state.surround);
  const outlines = useViewSettings((state) => state.outlines);
  const stage = useStageView([scene.width, scene.height]);
  const { area, room, view, rulers } = stage;
  const hands = usePress(session, stage);
  usePointedAt(session, stage);
  const selected = useSelection((state) => state.selected);
  const keep = useTools((state) => state.keep);
  const one = selected.length === 1 ? session.layer(selected[0]) : undefined;
  const beside = Boolean(one && !one.locked && keep === "picture" && isKeyed(one));
  const { picture, moving } = usePicture(view);
  const ghosts = useGhosts(view);
  const around = useSurroundings();
  const marks = useMarks(view, room, beside);

  const whole = {
    width: "100%",
    height: "100%",
    display: "block",
    imageRendering: view.scale >= 3 ? "pixelated" : "auto",
  };
  const ground = { light: "surroundLight", mid: "surround", dark: "surroundDark" }[surround];
  const over = { ...whole, position: "absolute", inset: 0, display: "none", pointerEvents: "none" };
  // The ticks of the focus are drawn around the stage, not on it: an outline would be repainted at every move within.
  return (
    <Box
      position="relative"
      height="100%"
      padding="2px"
      bg={ground}
      css={{ "&:has(> :focus-visible)": { background: `${TICKS}, ${roleColour(ground)}` } }}
    >
      <Box
        ref={area}
        position="relative"
        width="100%"
        height="100%"
        overflow="hidden"
        bg={ground}
        tabIndex={0}
        role="application"
        aria-label={`Stage, ${Math.round(view.scale * 100)} %. Drag layers to move them, drag the anchor's mark to place it.`}
        data-testid="stage"
        data-scale={view.scale}
        outline="none"
        {...hands}
        onKeyDown={(event: React.KeyboardEvent) => {
          if (event.key !== "ContextMenu" && !(event.key === "F10" && event.shiftKey)) return;
          event.preventDefault();
          event.stopPropagation();
          const box = area.current!.getBoundingClientRect();
          openSelectedMenu(session, [box.x + box.width / 2, box.y + 40]);
        }}
        onContextMenu={(event: React.MouseEvent) => {
          event.preventDefault();
          const box = area.current!.getBoundingClientRect();
          openStageMenu(session, view, [event.clientX - box.x, event.clientY - box.y], [event.clientX, event.clientY]);
        }}
        css={{ touchAction: "none", contain: "strict" }}
      >
        <Surroundings view={view} />
        <Box
          position="absolute"
          left={`${view.x}px`}
          top={`${view.y}px`}
          width={`${scene.width * view.scale}px`}
          height={`${scene.height * view.scale}px`}
          boxShadow="lg"
          visibility={outlines ? "hidden" : "visible"}
          outline={around ? "1px solid" : undefined}
          outlineColor="act"
          css={{ background: around ? "transparent" : CHEQUER }}
        >
          <canvas
            ref={picture}
            width={scene.width}
            height={scene.height}
            data-testid="picture"
            aria-hidden
            style={whole as React.CSSProperties}
          />
          <canvas ref={moving} data-testid="moving" aria-hidden style={over as React.CSSProperties} />
          <canvas
            ref={ghosts}
            data-testid="ghosts"
            aria-hidden
            style={{ ...over, opacity: 0.34 } as React.CSSProperties}
          />
          <BeforeWipe stage={stage} view={view} />
        </Box>
        <canvas
          ref={marks}
          data-testid="marks"
          aria-hidden
          style={{ position: "absolute", inset: 0, width: "100%", height: "100%", pointerEvents: "none" }}
        />
        <Overlay view={view} room={room} beside={beside} />
        <TextInPlace view={view} />
        {rulers && <SceneRulers view={view} room={room} />}
        <SoloNote />
        <DrawNote />
        <BlurNote />
        <InsideNote />
        <InnerNote />
        <SlipNote />
        <Rate />
        <Scopes />
        <PointerColour stage={stage} picture={picture} />
        <LookingGlass view={view} picture={picture} />
      </Box>
      <ZoomCorner />
    </Box>
  );
}
