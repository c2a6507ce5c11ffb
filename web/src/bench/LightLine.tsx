import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useRef } from "react";
import { toast } from "sonner";
import { request } from "../api/client";

/** What the light looks like all around, and bringing one's own: a lat-long picture that holds brightness beyond white. */
export function LightLine({ light, onBrought }: { light: string; onBrought: (light: string) => void }) {
  const client = useQueryClient();
  const entry = useRef<HTMLInputElement>(null);
  const bring = useMutation({
    mutationFn: async (file: File) => {
      const form = new FormData();
      form.append("file", file);
      return (await (await request("POST", "/lights", form)).json()) as { name: string };
    },
    onSuccess: async ({ name }) => {
      await client.invalidateQueries({ queryKey: ["studio"] });
      toast(`The light ${name} is here for everyone.`);
      onBrought(name);
    },
  });
  return (
    <span className="flex items-center gap-2 self-end pb-0.5">
      <img
        src={`/api/v1/lights/${encodeURIComponent(light)}/picture`}
        alt={`${light}, all around`}
        title={`${light}, all around`}
        className="h-9 w-18 border border-rule object-cover"
      />
      <button
        className="act"
        title=".hdr or .exr, all around (2 : 1)"
        onClick={() => entry.current?.click()}
        disabled={bring.isPending}
      >
        {bring.isPending ? "Reading…" : "Bring…"}
      </button>
      <input
        ref={entry}
        type="file"
        accept=".hdr,.exr"
        aria-label="file of a light"
        className="hidden"
        onChange={(e) => {
          const file = e.target.files?.[0];
          e.target.value = "";
          if (file) bring.mutate(file);
        }}
      />
    </span>
  );
}
