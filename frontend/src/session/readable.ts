import { api, need } from "../api/client";
import type { Session } from "./session";

/** Pixels along a side that the ground is looked at by. */
const SIDE = 16;

/** The mean colour of the stage's picture within a box of the scene; null where nothing is painted there. */
function groundIn([left, top, width, height]: number[]): string | null {
  const canvas = document.querySelector<HTMLCanvasElement>("[data-testid=picture]");
  if (!canvas) return null;
  const small = document.createElement("canvas");
  Object.assign(small, { width: SIDE, height: SIDE });
  const pen = small.getContext("2d", { willReadFrequently: true })!;
  pen.imageSmoothingQuality = "high";
  pen.drawImage(canvas, left, top, Math.max(width, 1), Math.max(height, 1), 0, 0, SIDE, SIDE);
  const { data } = pen.getImageData(0, 0, SIDE, SIDE);
  const sums = [0, 0, 0, 0];
  for (let i = 0; i < data.length; i += 4) {
    for (let part = 0; part < 3; part++) sums[part] += data[i + part] * data[i + 3];
    sums[3] += data[i + 3];
  }
  if (sums[3] === 0) return null;
  const hex = (n: number) => Math.round(n).toString(16).padStart(2, "0");
  return `#${sums
    .slice(0, 3)
    .map((sum) => hex(sum / sums[3]))
    .join("")}ff`;
}

/** A colour for what is new in a box of the scene: the first, where it stands out on what is painted there. */
export async function readableIn(session: Session, box: number[], first: string): Promise<string> {
  const project = session.answer?.project;
  const ground = groundIn(box);
  if (!project || !ground) return first;
  const params = { path: { project_id: project }, query: { ground, first } };
  return need(api.GET("/api/projects/{project_id}/colours/readable", { params })).then(
    ({ colour }) => colour,
    () => first,
  );
}

/** The fill that words have by default. */
const WORDS = "#1b2628ff";

type Made = Record<string, unknown>;

/** Content with the colours that stand out in a box of the scene: of its first shape, or of its words. */
export async function readableContent<C extends object>(session: Session, content: C, box: number[]): Promise<C> {
  const given = content as { kind?: string; items?: Made[] };
  if (given.kind === "text") {
    const fill = await readableIn(session, box, WORDS);
    return { ...content, fill: { rest: fill } };
  }
  const [item, ...others] = given.items ?? [];
  if (given.kind !== "shape" || !item) return content;
  const stroke = item.stroke as { colour?: string } | undefined;
  const first = typeof item.fill === "string" ? item.fill : stroke?.colour;
  if (!first) return content;
  const colour = await readableIn(session, box, first);
  const made = typeof item.fill === "string" ? { ...item, fill: colour } : { ...item, stroke: { ...stroke, colour } };
  return { ...content, items: [made, ...others] };
}
