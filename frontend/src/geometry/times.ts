import type { Scene } from "../api/client";

type Rated = Pick<Scene, "frame_rate">;

const nominalOf = ({ frame_rate }: Rated) => {
  const [n, d] = frame_rate ?? [30, 1];
  return Math.max(Math.round(n / d), 1);
};

export const fps = ({ frame_rate }: Rated) => (frame_rate ? frame_rate[0] / frame_rate[1] : 30);

/** A frame rate in words. */
export const rateWords = ([frames, seconds]: number[]) => `${Math.round((frames / seconds) * 1000) / 1000}`;

/** A rate that the generated client takes for any numbers. */
export const ratedBy = (rate: number[]): Rated => ({ frame_rate: rate as [number, number] });

/** How many frame numbers a minute drop-frame timecode leaves out. */
const drops = ({ frame_rate }: Rated) => {
  const [n, d] = frame_rate ?? [30, 1];
  return n === 30_000 && d === 1_001 ? 2 : n === 60_000 && d === 1_001 ? 4 : 0;
};

/** A frame as seconds:frames, as the core writes it; drop-frame, marked by a semicolon, where the rate has it. */
export function timecode(frame: number, scene: Rated): string {
  const nominal = nominalOf(scene);
  const left = drops(scene);
  let number = Math.round(Math.abs(frame));
  if (left) {
    const ten = 600 * nominal - 9 * left;
    const minutes = Math.max(Math.floor(((number % ten) - left) / (60 * nominal - left)), 0);
    number += left * (9 * Math.floor(number / ten) + minutes);
  }
  const sign = frame < 0 && number ? "-" : "";
  const frames = String(number % nominal).padStart(2, "0");
  const seconds = Math.floor(number / nominal);
  if (left && seconds >= 60)
    return `${sign}${Math.floor(seconds / 60)}:${String(seconds % 60).padStart(2, "0")};${frames}`;
  return `${sign}${seconds}${left ? ";" : ":"}${frames}`;
}

/** How a typed time may look; the core reads it. */
export const TIME_FORMS = "45, 45f, 1:10, 1.5s or +12";

/** Frame rates to choose from, and what they are called. */
export const RATES: [string, string][] = [
  ["24000/1001", "23.976"],
  ["24/1", "24"],
  ["25/1", "25"],
  ["30000/1001", "29.97"],
  ["30/1", "30"],
  ["50/1", "50"],
  ["60000/1001", "59.94"],
  ["60/1", "60"],
];
