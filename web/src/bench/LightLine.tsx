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
      await client.invalidateQueries({ queryKey: ["house"] });
      toast(`The light ${name} is here for everyone.`);
      onBrought(name);
    },
  });
  return (
    <span className="col-span-4 flex items-center gap-2">
      <img
        src={`/api/v1/lights/${encodeURIComponent(light)}/picture`}
        alt={`${light}, all around`}
        className="h-8 w-16 border border-rule object-cover"
      />
      <button className="act" onClick={() => entry.current?.click()} disabled={bring.isPending}>
        {bring.isPending ? "Reading the light…" : "Bring a light…"}
      </button>
      <span className="text-small text-soft">.hdr or .exr, all around (2 : 1)</span>
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
