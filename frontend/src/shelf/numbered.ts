import { Zip, ZipPassThrough } from "fflate";

/** How many pictures with numbers in their names may be meant as one clip. */
const LEAST = 3;

const parts = ({ name }: File) => name.match(/^(.*?)(\d+)(\D*)$/)?.slice(1, 4) ?? null;

/** The pictures among files that are numbered alike, in the order of their numbers; none where there are too few. */
export function numbered(files: File[]): File[] {
  const groups = new Map<string, [number, File][]>();
  for (const file of files) {
    const found = parts(file);
    if (!found) continue;
    const stem = `${found[0]}#${found[2]}`;
    groups.set(stem, [...(groups.get(stem) ?? []), [Number(found[1]), file]]);
  }
  const [most = []] = [...groups.values()].sort((a, b) => b.length - a.length);
  return most.length < LEAST ? [] : most.sort(([a], [b]) => a - b).map(([, file]) => file);
}

/** Numbered pictures in one file, as they are, named after what their names share. */
export async function packed(files: File[]): Promise<File> {
  const blocks: Uint8Array<ArrayBuffer>[] = [];
  const zip = new Zip((error, block) => {
    if (error) throw error;
    blocks.push(block as Uint8Array<ArrayBuffer>);
  });
  for (const [index, file] of files.entries()) {
    const entry = new ZipPassThrough(`${String(index).padStart(6, "0")}-${file.name}`);
    zip.add(entry);
    entry.push(new Uint8Array(await file.arrayBuffer()), true);
  }
  zip.end();
  const name = parts(files[0])?.[0].replace(/[\s_.-]+$/, "") || "Pictures";
  return new File(blocks, `${name}.zip`, { type: "application/zip" });
}
