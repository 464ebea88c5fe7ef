import { decode } from "@msgpack/msgpack";
import { useEffect, useState } from "react";

/** Small frames of a clip as addresses of pictures, in the order asked for; those of a frame that is none are empty. */
export function useSmallFrames(asset: string, frames: number[], width: number): string[] {
  const asked = frames.join(",");
  const [urls, setUrls] = useState<{ asked: string; list: string[] }>({ asked: "", list: [] });
  useEffect(() => {
    const wanted = [...new Set(asked.split(",").map(Number))].filter((frame) => asked && frame >= 0);
    let gone = false;
    let made = new Map<number, string>();
    const fetched = async () => {
      if (!wanted.length) return;
      const response = await fetch(`/api/clips/${asset}/frames?at=${wanted.join(",")}&width=${width}`);
      if (!response.ok || gone) return;
      const blocks = decode(await response.arrayBuffer()) as [number, Uint8Array<ArrayBuffer>][];
      if (gone) return;
      made = new Map(blocks.map(([frame, block]) => [frame, URL.createObjectURL(new Blob([block]))]));
      setUrls({ asked, list: asked.split(",").map((frame) => made.get(Number(frame)) ?? "") });
    };
    // What cannot be fetched stays as it was.
    const timer = setTimeout(() => void fetched().catch(() => {}), 80);
    return () => {
      gone = true;
      clearTimeout(timer);
      // The pictures that are shown stay until the next ones are here.
      setTimeout(() => [...made.values()].map((url) => URL.revokeObjectURL(url)), 5_000);
    };
  }, [asset, asked, width]);
  return urls.list;
}
