import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { Modal, ModalActions } from "../../ui/Modal";
import { counted } from "../../ui/numbers";
import { useState } from "react";
import { Link } from "react-router";
import { toast } from "sonner";
import { get, post, sendFile } from "../../api/client";
import type { Look, MapFile } from "../../api/types";
import { After } from "../../looks/MakeAlike";
import { tellManyDone } from "../../looks/manyDone";
import { LookPicture } from "../../ui/LookPicture";
import { Select } from "../../ui/Select";
import { Checkbox } from "../../ui/Checkbox";
import { keys } from "../../api/keys";

type Slot = NonNullable<Look["slots"]>[string];

/** Every look that uses a slot's file, and another file in its place in all of them: seen before it is done, taken back in one gesture. */
export function WhereUsed({ slot, onClose }: { slot: Slot; onClose: () => void }) {
  return (
    <Modal title={`Where ${slot.file.name} is used`} open onOpenChange={onClose}>
      <Users slot={slot} onDone={onClose} />
    </Modal>
  );
}

function Users({ slot, onDone }: { slot: Slot; onDone: () => void }) {
  const client = useQueryClient();
  const content = slot.file.content;
  const users = useQuery({
    queryKey: keys.mapUsers(content),
    queryFn: () => get("/api/v1/contents/{hash}/users", { params: { path: { hash: content } } }),
    staleTime: 0,
  });
  const [by, setBy] = useState<Pick<MapFile, "content" | "name"> | null>(null);
  const [without, setWithout] = useState<string[]>([]);
  const now = (users.data ?? []).filter((u) => u.usesItNow);
  const looks = now.filter((u) => !u.archived && !without.includes(u.id)).map((u) => u.id);
  const trial = useQuery({
    queryKey: keys.replacement(
      content,
      by?.content,
      now.map((u) => u.id),
    ),
    queryFn: () =>
      post("/api/v1/contents/{hash}/replacement/trial", {
        params: { path: { hash: content } },
        body: {
          ...by!,
          looks: now.map((u) => u.id),
        },
      }),
    enabled: by !== null && now.length > 0,
  });
  const others = slot.candidates.filter((c) => c.content !== content);
  const bring = async (file: File) => {
    const form = new FormData();
    form.append("files", file, file.name);
    const kept = await sendFile<MapFile>("/maps", form).catch((e: Error) => {
      toast.error(e.message, { duration: 8000 });
    });
    if (kept) setBy({ content: kept.content, name: kept.name });
  };
  const refresh = () =>
    Promise.all(
      [keys.looks(), keys.look(), keys.board(), keys.mapUsers()].map((queryKey) =>
        client.invalidateQueries({ queryKey }),
      ),
    );
  const replace = useMutation({
    mutationFn: () =>
      post("/api/v1/contents/{hash}/replacement", { params: { path: { hash: content } }, body: { ...by!, looks } }),
    onSuccess: (done) => {
      tellManyDone(done, (n) => `Replaced in ${n} look${n === 1 ? "" : "s"}`, refresh);
      onDone();
    },
    onError: (e) => toast.error(e.message, { duration: 8000 }),
  });
  return (
    <>
      <p className="my-2 flex flex-wrap items-center gap-2">
        Replace it by
        {others.length > 0 && (
          <Select
            label="another candidate"
            className="max-w-56"
            value={others.some((c) => c.content === by?.content) ? by!.content : ""}
            options={[
              { value: "", words: "choose a file…" },
              ...others.map((c) => ({ value: c.content, words: c.name })),
            ]}
            onChange={(chosen) => setBy(others.find((c) => c.content === chosen) ?? null)}
          />
        )}
        <label className="act relative text-small focus-within:outline-2 focus-within:outline-glaze">
          {by && !others.some((c) => c.content === by.content) ? by.name : "another file…"}
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
        <span className="text-small text-soft">Published versions are never changed.</span>
      </p>
      {users.isPending && <p className="text-soft">Looking…</p>}
      <ul className="min-h-0 overflow-auto" aria-label="looks that use it">
        {users.data?.map((u) => {
          const tried = trial.data?.find((t) => t.id === u.id);
          return (
            <li key={u.id} className="flex items-center gap-3 border-b border-rule py-1">
              {by && u.usesItNow && !u.archived && (
                <Checkbox
                  label={`replace it in ${u.name}`}
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
                    u.archived && "archived",
                    !u.usesItNow && "only in older versions",
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
      <ModalActions
        words={`Replace in ${counted(looks.length, "look")}`}
        disabled={!by || looks.length === 0 || replace.isPending}
        onDo={() => replace.mutate()}
      />
    </>
  );
}
