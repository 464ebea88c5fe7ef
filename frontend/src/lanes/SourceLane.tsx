import { useHasSound } from "../acts/clips";
import { useSource } from "../acts/useSource";
import type { Layer } from "../api/client";
import { hasFilm } from "../document/contents";
import { useSourcePictures } from "../play/sourcePictures";
import { STRIP } from "./rows";
import { SpanWave } from "./SpanWave";
import { NAMES, toFrame, toX, useScale } from "./scale";

/** The width of a picture of the film, in pixels. */
const PICTURE = 72;

/** Under an opened clip its film, picture by picture as they are shown over time; under a sound its wave in large. */
export function SourceLane({ layer }: { layer: Layer }) {
  const scale = useScale();
  const hasSound = useHasSound(layer);
  const { start, length } = layer.span;
  const from = Math.max(start, Math.floor(toFrame(scale, 0)));
  const to = Math.min(start + length, Math.ceil(toFrame(scale, scale.width)));
  const film = hasFilm(layer.content);
  return (
    <div className="lane" data-testid="source-lane" style={{ height: STRIP }}>
      <div className="lane-head" style={{ width: NAMES, height: STRIP }}>
        <span className="lane-name">{film ? "Film" : "Sound"}</span>
      </div>
      <div className="lane-body">
        {film && to > from && <Pictures layer={layer} from={from} to={to} />}
        {!film && hasSound && (
          <div
            style={{
              position: "absolute",
              left: toX(scale, start),
              width: length * scale.frameWidth,
              top: 3,
              bottom: 3,
              overflow: "hidden",
            }}
          >
            <SpanWave layer={layer} start={start} length={length} />
          </div>
        )}
      </div>
    </div>
  );
}

function Pictures({ layer, from, to }: { layer: Layer; from: number; to: number }) {
  const scale = useScale();
  const step = Math.max(Math.round(PICTURE / scale.frameWidth), 1);
  // Counted from the span's start, so that the pictures stay as the lanes scroll.
  const first = layer.span.start + Math.floor((from - layer.span.start) / step) * step;
  const at = Array.from({ length: Math.ceil((to - first) / step) }, (_, index) => first + index * step);
  const { frames } = useSource(layer, at);
  const urls = useSourcePictures(layer, frames, 160);
  return (
    <>
      {at.map((frame, index) => {
        const wide = Math.min(step, layer.span.start + layer.span.length - frame) * scale.frameWidth;
        return (
          <div
            key={frame}
            data-testid="film-picture"
            data-source={frames[index]}
            style={{
              position: "absolute",
              left: toX(scale, frame),
              width: Math.max(wide - 1, 1),
              top: 2,
              bottom: 2,
              backgroundImage: urls[index] ? `url(${urls[index]})` : undefined,
              backgroundSize: "cover",
              backgroundPosition: "left center",
              borderRadius: 3,
            }}
          />
        );
      })}
    </>
  );
}
