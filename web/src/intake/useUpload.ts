import { useQueryClient } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { toast } from "sonner";
import { post, upload } from "../api/client";
import { keys } from "../api/keys";
import { deliveryName } from "./deliveryName";

export interface UploadState {
  name: string;
  sent: number;
  total: number;
  file: string;
}

/** Sends the files of one delivery one after another, then has it analysed. */
export function useUpload(onDone: (id: string) => void) {
  const client = useQueryClient();
  const [state, setState] = useState<UploadState | null>(null);
  const abort = useRef<AbortController | null>(null);

  const start = async (files: { path: string; file: File }[]) => {
    if (files.length === 0 || state) return;
    const name = deliveryName(files.map((f) => f.path));
    const total = files.reduce((sum, f) => sum + f.file.size, 0);
    const controller = (abort.current = new AbortController());
    let before = 0;
    let id = "";
    try {
      id = (await post("/api/v1/deliveries", { body: { name } })).id;
      for (const { path, file } of files) {
        setState({ name, sent: before, total, file: path });
        const place = path.split("/").map(encodeURIComponent).join("/");
        try {
          await upload(
            `/deliveries/${id}/files/${place}`,
            file,
            (sent) => setState({ name, sent: before + sent, total, file: path }),
            controller.signal,
          );
        } catch (error) {
          if (controller.signal.aborted) throw error;
          toast.error(`${path}: ${(error as Error).message}`, { duration: 10000 });
        }
        before += file.size;
      }
      await post("/api/v1/deliveries/{id}/analyse", { params: { path: { id } } });
      onDone(id);
    } catch (error) {
      if (id) await post("/api/v1/deliveries/{id}/cancel", { params: { path: { id } } }).catch(() => undefined);
      if (!controller.signal.aborted) toast.error((error as Error).message);
    } finally {
      setState(null);
      void client.invalidateQueries({ queryKey: keys.deliveries() });
    }
  };
  return { state, start, cancel: () => abort.current?.abort() };
}

/** Files of a drop, folders walked. */
export async function droppedFiles(transfer: DataTransfer): Promise<{ path: string; file: File }[]> {
  const found: { path: string; file: File }[] = [];
  const walk = async (entry: FileSystemEntry, prefix: string): Promise<void> => {
    if (entry.isFile) {
      const file = await new Promise<File>((ok, no) => (entry as FileSystemFileEntry).file(ok, no));
      found.push({ path: prefix + entry.name, file });
      return;
    }
    const reader = (entry as FileSystemDirectoryEntry).createReader();
    for (;;) {
      const part = await new Promise<FileSystemEntry[]>((ok, no) => reader.readEntries(ok, no));
      if (part.length === 0) return;
      for (const inner of part) await walk(inner, `${prefix}${entry.name}/`);
    }
  };
  const entries = [...transfer.items].map((i) => i.webkitGetAsEntry()).filter((e): e is FileSystemEntry => e !== null);
  for (const entry of entries) await walk(entry, "");
  return found;
}
