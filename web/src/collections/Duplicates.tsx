import { useQuery } from "@tanstack/react-query";
import { Dialog } from "radix-ui";
import { useState } from "react";
import { Link } from "react-router";
import { get } from "../api/client";
import { useStudio } from "../api/queries";
import type { TwinGroup } from "../api/types";

/** Maps that several looks of a collection have: the same file, or nearly the same picture. */
export function Duplicates({ collection, name }: { collection: string; name: string }) {
  const studio = useStudio();
  const [open, setOpen] = useState(false);
  const groups = useQuery({
    queryKey: ["duplicates", collection],
    queryFn: () => get<TwinGroup[]>(`/looks/duplicates?collection=${collection}`),
    enabled: open,
    staleTime: 0,
  });
  return (
    <Dialog.Root open={open} onOpenChange={setOpen}>
      <Dialog.Trigger className="act text-small">Duplicates…</Dialog.Trigger>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-30 bg-black/25" />
        <Dialog.Content
          aria-describedby={undefined}
          className="fixed top-16 left-1/2 z-40 max-h-[84vh] w-[720px] -translate-x-1/2 overflow-auto border border-rule bg-panel p-4"
        >
          <Dialog.Title className="mb-2 text-large font-medium">Maps that are twice in {name}</Dialog.Title>
          {groups.isPending && <p className="text-soft">Looking…</p>}
          {groups.data?.length === 0 && <p className="text-soft">Every look has maps of its own.</p>}
          {groups.data?.map((g, i) => (
            <section key={i} className="border-t border-rule py-2">
              <h3 className="mb-1 font-medium">
                {studio.data?.roles.find((r) => r.id === g.role)?.words ?? g.role}:{" "}
                {g.kind === "same" ? "the same file" : "nearly the same picture in different files"}
              </h3>
              <ul className="flex flex-wrap gap-3">
                {g.maps.map((m) => (
                  <li key={m.look + m.slot} className="w-32">
                    <img
                      src={`/api/v1/contents/${m.file.content}/thumbnail?kind=colour&space=srgb_texture&channel=rgb&size=176`}
                      alt=""
                      className="size-24 bg-well object-cover"
                    />
                    <Link className="block truncate text-small hover:underline" title={m.name} to={`/looks/${m.look}`}>
                      {m.name}
                    </Link>
                    <span className="block truncate text-small text-soft" title={m.file.name}>
                      {m.file.name}
                    </span>
                    <span className="block font-mono text-small text-soft">
                      {m.file.width} × {m.file.height}
                    </span>
                  </li>
                ))}
              </ul>
            </section>
          ))}
          <Dialog.Close className="act mt-2">Close</Dialog.Close>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
