import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { Dialog } from "radix-ui";
import { useState } from "react";
import { Link } from "react-router";
import { toast } from "sonner";
import { get, send } from "../api/client";
import type { EditedLook, Look, MapFile, MapUser, ReplacementTrial } from "../api/types";
import { After } from "../looks/MakeAlike";
import { tellManyDone } from "../looks/manyDone";
import { LookPicture } from "../ui/LookPicture";

type Slot = NonNullable<Look["slots"]>[string];

/** Every look that uses a slot's file, and another file in its place in all of them: seen before it is done, taken back in one gesture. */
export function WhereUsed({ words, slot }: { words: string; slot: Slot }) {
  const [open, setOpen] = useState(false);
  return (
    <Dialog.Root open={open} onOpenChange={setOpen}>
      <Dialog.Trigger
        className="border-l border-rule px-1 text-small text-soft hover:bg-glaze-pale"
        title={`where ${slot.file.name} is used`}
      >
        <span aria-hidden="true">≡</span>
        <span className="sr-only">where the {words} map is used</span>
      </Dialog.Trigger>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-30 bg-black/25" />
        <Dialog.Content
          aria-describedby={undefined}
          className="fixed top-12 left-1/2 z-40 flex max-h-[86vh] w-[720px] -translate-x-1/2 flex-col border border-rule bg-panel p-4 shadow-lg"
        >
          <Dialog.Title className="text-large font-medium break-all">Where {slot.file.name} is used</Dialog.Title>
          <Users slot={slot} onDone={() => setOpen(false)} />
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}

function Users({ slot, onDone }: { slot: Slot; onDone: () => void }) {
  const client = useQueryClient();
  const content = slot.file.content;
  const users = useQuery({
    queryKey: ["map-users", content],
    queryFn: () => get<MapUser[]>(`/contents/${content}/users`),
    staleTime: 0,
  });
  const [by, setBy] = useState<Pick<MapFile, "content" | "name"> | null>(null);
  const [without, setWithout] = useState<string[]>([]);
  const now = (users.data ?? []).filter((u) => u.usesItNow);
  const looks = now.filter((u) => !u.archived && !without.includes(u.id)).map((u) => u.id);
  const trial = useQuery({
    queryKey: ["replacement", content, by?.content, now.map((u) => u.id)],
    queryFn: () =>
      send<ReplacementTrial[]>("POST", `/contents/${content}/replacement/trial`, {
        ...by!,
        looks: now.map((u) => u.id),
      }),
    enabled: by !== null && now.length > 0,
  });
  const others = slot.candidates.filter((c) => c.content !== content);
  const bring = async (file: File) => {
    const form = new FormData();
    form.append("files", file, file.name);
    const kept = await send<MapFile>("POST", "/maps", form).catch((e: Error) => {
      toast.error(e.message, { duration: 8000 });
    });
    if (kept) setBy({ content: kept.content, name: kept.name });
  };
  const refresh = () =>
    Promise.all(["looks", "look", "board", "map-users"].map((key) => client.invalidateQueries({ queryKey: [key] })));
  const replace = useMutation({
    mutationFn: () => send<EditedLook[]>("POST", `/contents/${content}/replacement`, { ...by!, looks }),
    onSuccess: (done) => {
      tellManyDone(done, (n) => `Replaced in ${n} look${n === 1 ? "" : "s"}`, refresh);
      onDone();
    },
    onError: (e) => toast.error(e.message, { duration: 8000 }),
  });
  return (
    <>
      <p className="my-2 flex flex-wrap items-center gap-2">
        replace it by
        {others.length > 0 && (
          <select
            className="entry max-w-56"
            aria-label="another candidate"
            value={others.some((c) => c.content === by?.content) ? by!.content : ""}
            onChange={(e) => setBy(others.find((c) => c.content === e.target.value) ?? null)}
          >
            <option value="">a candidate…</option>
            {others.map((c) => (
              <option key={c.content} value={c.content}>
                {c.name}
              </option>
            ))}
          </select>
        )}
        <label className="act text-small">
          {by && !others.some((c) => c.content === by.content) ? by.name : "a file…"}
          <input
            type="file"
            aria-label="file to replace it by"
            className="sr-only"
            onChange={(e) => {
              const file = e.target.files?.[0];
              e.target.value = "";
              if (file) void bring(file);
            }}
          />
        </label>
        <span className="text-small text-soft">versions are never changed</span>
      </p>
      {users.isPending && <p className="text-soft">Looking…</p>}
      <ul className="min-h-0 overflow-auto" aria-label="looks that use it">
        {users.data?.map((u) => {
          const tried = trial.data?.find((t) => t.id === u.id);
          return (
            <li key={u.id} className="flex items-center gap-3 border-b border-rule py-1">
              {by && u.usesItNow && !u.archived && (
                <input
                  type="checkbox"
                  className="accent-glaze"
                  aria-label={`replace it in ${u.name}`}
                  checked={!without.includes(u.id)}
                  onChange={() =>
                    setWithout(without.includes(u.id) ? without.filter((w) => w !== u.id) : [...without, u.id])
                  }
                />
              )}
              <LookPicture look={u.id} size={96} asked={`&r=${u.revision}`} alt="" urgent className="size-16 bg-well" />
              {by && tried?.edit && <After look={u.id} edit={tried.edit} />}
              <span>
                <Link className="font-medium hover:underline" to={`/looks/${u.id}`} onClick={onDone}>
                  {u.name}
                </Link>
                <span className="block text-small text-soft">
                  {[
                    u.archived && "put away",
                    !u.usesItNow && "not as it is now",
                    u.versions.length > 0 && `version ${u.versions.join(", ")}`,
                    tried?.refused,
                  ]
                    .filter(Boolean)
                    .join(" · ")}
                </span>
              </span>
            </li>
          );
        })}
      </ul>
      <p className="mt-3 flex gap-2">
        <button
          className="act"
          data-main="true"
          disabled={!by || looks.length === 0 || replace.isPending}
          onClick={() => replace.mutate()}
        >
          Replace in {looks.length} look{looks.length === 1 ? "" : "s"}
        </button>
        <Dialog.Close className="act">Leave it</Dialog.Close>
      </p>
    </>
  );
}
