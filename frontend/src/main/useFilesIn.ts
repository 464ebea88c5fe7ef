import { useEffect, useState } from "react";
import { paste } from "../keys/copyPaste";
import { useSession } from "../session/session";
import { useAddFiles } from "../shelf/pictures";
import { takenElsewhere } from "./keysHeard";

const KEYFRAMES = /@(-\w+-)?keyframes\b/;

/**
 * Files that are dropped anywhere on the window come in, as do those that are pasted, and keyframes of CSS; whatever else
 * is pasted is what was copied here. Says whether files are held over the window.
 */
export function useFilesIn(): boolean {
  const session = useSession();
  const addFiles = useAddFiles();
  const [over, setOver] = useState(false);
  useEffect(() => {
    const holdsFiles = (event: DragEvent) => !!event.dataTransfer?.types.includes("Files");
    const come = (event: DragEvent) => {
      if (!holdsFiles(event)) return;
      event.preventDefault();
      setOver(true);
    };
    const leave = (event: DragEvent) => event.relatedTarget || setOver(false);
    const drop = (event: DragEvent) => {
      setOver(false);
      if (!holdsFiles(event)) return;
      event.preventDefault();
      void addFiles([...event.dataTransfer!.files]);
    };
    const pasted = (event: ClipboardEvent) => {
      if (takenElsewhere({ target: event.target, key: "v", ctrlKey: true, metaKey: false } as KeyboardEvent)) return;
      event.preventDefault();
      const files = [...(event.clipboardData?.files ?? [])];
      const text = event.clipboardData?.getData("text/plain") ?? "";
      if (files.length) void addFiles(files);
      else if (KEYFRAMES.test(text)) void addFiles([new File([text], "pasted.css")]);
      else void paste(session);
    };
    addEventListener("dragover", come);
    addEventListener("dragleave", leave);
    addEventListener("drop", drop);
    addEventListener("paste", pasted);
    return () => {
      removeEventListener("dragover", come);
      removeEventListener("dragleave", leave);
      removeEventListener("drop", drop);
      removeEventListener("paste", pasted);
    };
  }, [session, addFiles]);
  return over;
}
