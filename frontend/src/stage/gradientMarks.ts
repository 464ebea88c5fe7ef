import { toScreen, type View } from "../geometry/layerGeometry";
import { gradientShown, handlesOf, stopColour } from "../session/gradients";
import type { Session } from "../session/session";
import { inkOf } from "../theme/canvasColours";

/** The handles of the gradient that is aimed on the stage: stops in their colours, ends and centre as rings. */
export function drawGradient(session: Session, pen: CanvasRenderingContext2D, view: View) {
  const shown = gradientShown(session);
  pen.canvas.dataset.gradient = shown ? shown.gradient.gradient : "";
  if (!shown) return;
  const { layer, paint, gradient } = shown;
  const { handles, line } = handlesOf(session, layer, paint, gradient);
  pen.beginPath();
  for (const at of line) pen.lineTo(...toScreen(view, at));
  pen.strokeStyle = inkOf("markHalo");
  pen.lineWidth = 3.5;
  pen.globalAlpha = 0.85;
  pen.stroke();
  pen.globalAlpha = 1;
  pen.strokeStyle = inkOf("act");
  pen.lineWidth = 1.5;
  pen.stroke();
  for (const { part, stop, at } of handles) {
    const [x, y] = toScreen(view, at);
    pen.beginPath();
    pen.arc(x, y, part === "stop" ? 5.5 : 7, 0, 2 * Math.PI);
    pen.fillStyle = inkOf("markHalo");
    if (part === "stop") pen.fill();
    if (part === "stop") pen.fillStyle = stopColour(session, layer, paint, stop);
    if (part === "stop" || part === "centre") pen.fill();
    pen.strokeStyle = inkOf("markHalo");
    pen.lineWidth = 4;
    pen.stroke();
    pen.strokeStyle = inkOf("act");
    pen.lineWidth = 2;
    pen.stroke();
  }
}
