import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useRef } from "react";
import { toast } from "sonner";
import { request } from "../../../api/client";
import { Tip } from "../../../ui/Tip";
import { nameOf } from "../../../ui/names";
import { keys } from "../../../api/keys";

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
      await client.invalidateQueries({ queryKey: keys.studio() });
      toast(`The light ${name} can now be used by everyone.`);
      onBrought(name);
    },
  });
  return (
    <span className="flex items-center gap-2 self-end pb-0.5">
      <Tip words={`${nameOf(light)}, all around`}>
        <img
          src={`/api/v1/lights/${encodeURIComponent(light)}/picture`}
          alt={`${nameOf(light)}, all around`}
          className="h-9 w-18 border border-rule object-cover"
        />
      </Tip>
      <Tip words="Import a light: .hdr or .exr, lat-long (2 : 1)">
        <button className="act" onClick={() => entry.current?.click()} disabled={bring.isPending}>
          {bring.isPending ? "Reading…" : "Import…"}
        </button>
      </Tip>
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
