import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { del, post, request } from "../../api/client";
import type { ColourInfo, ConfigEffect } from "../../api/types";
import { keys } from "../../api/keys";

interface Choice {
  config: string | null;
  environment: boolean;
}

/** What is in force, what could be, and what a switch would change before it does. */
export function ConfigChoice({ colour, admin }: { colour: ColourInfo; admin: boolean }) {
  const client = useQueryClient();
  const file = useRef<HTMLInputElement>(null);
  const [asked, setAsked] = useState<{ choice: Choice; effect: ConfigEffect } | null>(null);
  const again = () =>
    Promise.all([keys.colour(), keys.studio(), keys.board()].map((queryKey) => client.invalidateQueries({ queryKey })));
  const ask = useMutation({
    mutationFn: async (choice: Choice) => ({
      choice,
      effect: await post("/api/v1/colour/effect", { body: choice }),
    }),
    onSuccess: setAsked,
  });
  const choose = useMutation({
    mutationFn: (choice: Choice) => post("/api/v1/colour/choice", { body: choice }),
    onSuccess: () => {
      setAsked(null);
      return again();
    },
  });
  const add = useMutation({
    mutationFn: async (f: File) =>
      (await request("POST", `/colour/configs?name=${encodeURIComponent(f.name)}`, f)).json() as Promise<Choice>,
    onSuccess: async (added) => {
      await again();
      ask.mutate(added);
    },
  });
  const remove = useMutation({
    mutationFn: (id: string) => del("/api/v1/colour/configs/{id}", { params: { path: { id } } }),
    onSuccess: again,
  });
  const none = colour.title === "none";
  return (
    <section aria-labelledby="in-force">
      <h2 id="in-force" className="font-medium">
        {none ? "No colour config" : <>In use: {colour.title}</>}
        <span className="ml-2 font-normal text-soft">{colour.reason}</span>
      </h2>
      {colour.fault && (
        <p role="alert" className="mt-1 border border-ink px-2 py-1">
          It cannot be used, so none is in use: {colour.fault}
        </p>
      )}
      {colour.hash && (
        <p className="mt-0.5 text-small text-soft">
          version {colour.version} · content <span className="font-mono">{colour.hash.slice(0, 16)}</span>
          {colour.reference && <> · its scene reference was measured to be {colour.reference}</>}
          {colour.description && <> · {colour.description}</>}
        </p>
      )}
      {none && !colour.fault && (
        <p className="mt-1 max-w-prose text-soft">
          Colour spaces are written under standard names. Import the studio's OpenColorIO config, alone or as a zip with
          its tables, to write its names instead; spaces are matched by measuring.
        </p>
      )}
      {colour.remarks.map((remark) => (
        <p key={remark} className="mt-1 text-small">
          {remark}
        </p>
      ))}
      <ul className="mt-2">
        {colour.kept.map((k) => (
          <li key={k.id} className="flex items-center gap-2 border-t border-rule py-1">
            <span className="grow">
              {k.name} <span className="font-mono text-small text-soft">{k.hash.slice(0, 12)}</span>{" "}
              <span className="text-small text-soft">imported by {k.addedBy}</span>
            </span>
            {k.inForce ? (
              <span className="text-small">in use</span>
            ) : (
              admin && (
                <>
                  <button className="act text-small" onClick={() => ask.mutate({ config: k.id, environment: false })}>
                    Preview the change
                  </button>
                  <button className="act text-small" onClick={() => remove.mutate(k.id)}>
                    Remove
                  </button>
                </>
              )
            )}
          </li>
        ))}
      </ul>
      <div className="mt-2 flex gap-2">
        {admin && (
          <>
            <button className="act" onClick={() => file.current?.click()} disabled={add.isPending}>
              {add.isPending ? "Reading the config…" : "Import a config…"}
            </button>
            <input
              ref={file}
              type="file"
              accept=".ocio,.zip"
              className="hidden"
              aria-label="config file"
              onChange={(e) => {
                if (e.target.files?.[0]) add.mutate(e.target.files[0]);
                e.target.value = "";
              }}
            />
            {!none && (
              <button className="act" onClick={() => ask.mutate({ config: null, environment: false })}>
                Use none…
              </button>
            )}
          </>
        )}
        <a className="act inline-block" href="/api/v1/colour/export" download="nimble-kiln.ocio">
          Download a config of these spaces
        </a>
      </div>
      {asked && (
        <div role="status" className="mt-3 border border-rule bg-sunken p-3">
          <p className="font-medium">
            {asked.effect.title === "none" ? "Without a config" : asked.effect.title}: {asked.effect.renamed.length}{" "}
            {asked.effect.renamed.length === 1 ? "name" : "names"} would be written differently, in {asked.effect.looks}{" "}
            {asked.effect.looks === 1 ? "look" : "looks"}
          </p>
          {asked.effect.unusable > 0 && <p>{asked.effect.unusable} of its spaces cannot be used here.</p>}
          <ul className="my-1">
            {asked.effect.renamed.map((r) => (
              <li key={r.space} className="font-mono text-small">
                {r.before} → {r.after}
              </li>
            ))}
          </ul>
          <p className="text-small text-soft">Pictures stay the same: only names in exported networks change.</p>
          <div className="mt-2 flex gap-2">
            <button data-testid="config-use" className="act act-main" onClick={() => choose.mutate(asked.choice)}>
              Use this config
            </button>
            <button className="act" onClick={() => setAsked(null)}>
              Cancel
            </button>
          </div>
        </div>
      )}
    </section>
  );
}
