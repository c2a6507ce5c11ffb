import { useQuery } from "@tanstack/react-query";
import { Modal, ModalClose } from "../ui/Modal";
import { useState } from "react";
import { Link } from "react-router";
import { get } from "../api/client";
import { useStudio } from "../api/queries";
import { Tip } from "../ui/Tip";
import { keys } from "../api/keys";

/** Maps that several looks of a collection have: the same file, or nearly the same picture. */
export function Duplicates({ collection, name }: { collection: string; name: string }) {
  const studio = useStudio();
  const [open, setOpen] = useState(false);
  const groups = useQuery({
    queryKey: keys.duplicates(collection),
    queryFn: () => get("/api/v1/looks/duplicates", { params: { query: { collection } } }),
    enabled: open,
    staleTime: 0,
  });
  return (
    <Modal
      title={`Duplicate maps in ${name}`}
      trigger={<button className="act text-small">Duplicates…</button>}
      open={open}
      onOpenChange={setOpen}
      width={720}
    >
      {groups.isPending && <p className="text-soft">Searching…</p>}
      {groups.data?.length === 0 && <p className="text-soft">No map is used twice.</p>}
      {groups.data?.map((g, i) => (
        <section key={i} className="border-t border-rule py-2">
          <h3 className="mb-1 font-medium">
            {studio.data?.roles.find((r) => r.id === g.role)?.words ?? g.role}:{" "}
            {g.kind === "same" ? "the same file" : "almost the same picture in different files"}
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
                <Tip words={m.file.name}>
                  <span className="block truncate text-small text-soft">{m.file.name}</span>
                </Tip>
                <span className="block font-mono text-small text-soft">
                  {m.file.width} × {m.file.height}
                </span>
              </li>
            ))}
          </ul>
        </section>
      ))}
      <ModalClose className="act mt-2">Close</ModalClose>
    </Modal>
  );
}
