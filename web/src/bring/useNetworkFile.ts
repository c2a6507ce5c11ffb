import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { toast } from "sonner";
import { sendFile } from "../api/client";
import type { BroughtLook, FoundMaterial } from "../api/types";
import { keys } from "../api/keys";

/** Files that hold materials by themselves. */
const networkEndings = [".glb", ".gltf", ".mtlx", ".usda", ".usdc", ".usd", ".usdz"];

/** A single file of materials, which is no delivery of maps. */
export const isNetworkFile = (name: string) => networkEndings.some((ending) => name.toLowerCase().endsWith(ending));

export interface ChoiceOfMaterials {
  file: File;
  materials: FoundMaterial[];
}

/** Brings a package or a network in: at once where it holds one material, else a person chooses among them. */
export function useNetworkFile(onBrought?: (looks: BroughtLook[]) => void) {
  const client = useQueryClient();
  const [choice, setChoice] = useState<ChoiceOfMaterials | null>(null);
  const failed = (error: Error) => toast.error(error.message, { duration: 8000 });
  const bring = useMutation({
    mutationFn: ({ file, only }: { file: File; only: number[] }) => {
      const query = new URLSearchParams([["name", file.name], ...only.map((n) => ["only", String(n)])]);
      return sendFile<BroughtLook[]>(`/looks/packages?${query}`, file);
    },
    onSuccess: (looks) => {
      for (const look of looks)
        toast(
          [`${look.name} was imported`, look.missingMaps > 0 && `${look.missingMaps} of its maps are missing`]
            .concat(look.remarks)
            .filter(Boolean)
            .join("; "),
          { duration: look.missingMaps > 0 || look.remarks.length > 0 ? 12000 : 4000 },
        );
      void client.invalidateQueries({ queryKey: keys.looks() });
      onBrought?.(looks);
    },
    onError: failed,
  });
  const list = useMutation({
    mutationFn: (file: File) =>
      sendFile<FoundMaterial[]>(`/looks/packages/materials?name=${encodeURIComponent(file.name)}`, file),
    onSuccess: (materials, file) => {
      if (materials.length > 1) setChoice({ file, materials });
      else bring.mutate({ file, only: [] });
    },
    onError: failed,
  });
  return {
    begin: (file: File) => list.mutate(file),
    isBusy: list.isPending || bring.isPending,
    choice,
    take: (only: number[]) => {
      if (choice) bring.mutate({ file: choice.file, only });
      setChoice(null);
    },
    leave: () => setChoice(null),
  };
}
