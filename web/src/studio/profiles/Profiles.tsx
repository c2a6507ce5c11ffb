import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { get } from "../../api/client";
import { useLooks } from "../../api/queries";
import type { ProfileInfo, Session } from "../../api/types";
import { StudioHeading } from "../StudioHeading";
import { ProfileText } from "./ProfileText";
import { ProfileTrial } from "./ProfileTrial";
import { useProfile } from "./useProfile";
import { Combobox } from "../../ui/Combobox";
import { keys } from "../../api/keys";

/** The dialects and the profiles that describe them: opened, checked line by line, tried on a look, kept as a version of the studio. */
export function Profiles({ session }: { session: Session }) {
  const list = useQuery({ queryKey: keys.profiles(), queryFn: () => get<ProfileInfo[]>("/profiles") });
  const looks = useLooks();
  const profile = useProfile();
  const [opened, setOpened] = useState<string | null>(null);
  const [note, setNote] = useState("");
  const admin = session.role === "admin";
  const { verdict } = profile;
  const open = (path: string, name: string) => {
    setOpened(name);
    void profile.open(path);
  };
  return (
    <div className="mx-auto max-w-6xl p-6">
      <StudioHeading />
      <p className="mb-3 text-soft">
        A renderer is described by a profile: its inputs, formulas, nodes and textures. Open one, change it, try it on a
        look. A version in use is never changed; the next one replaces it.
      </p>
      <div className="grid gap-6 lg:grid-cols-[300px_minmax(0,1fr)]">
        <div>
          <ul aria-label="renderers">
            {list.data?.map((p) => (
              <li key={p.id} className="border-b border-rule py-1" data-profile={p.id}>
                <div className="flex items-baseline gap-2">
                  <b className="grow font-medium">{p.title}</b>
                  <span className="text-small text-soft">
                    {p.houseVersion ? `of the studio, version ${p.houseVersion}` : "shipped"}
                  </span>
                  <button
                    data-testid={`open-${p.id}`}
                    className="act text-small"
                    aria-label={`open the profile of ${p.title}`}
                    aria-pressed={opened === p.id}
                    onClick={() => open(`/profiles/${p.id}/text`, p.id)}
                  >
                    Open
                  </button>
                </div>
                {p.versions.map((v) => (
                  <p key={v.id} className="flex items-baseline gap-2 text-small text-soft">
                    <button className="underline" onClick={() => open(`/profiles/versions/${v.id}/text`, v.id)}>
                      version {v.version}
                    </button>
                    <span className="grow">
                      {v.note} · {v.person}
                      {v.inForce && ", in use"}
                    </span>
                    {v.inForce && admin && (
                      <button
                        className="underline"
                        aria-label={`Restore the shipped one of ${p.title}`}
                        onClick={() => profile.takeBack.mutate(p.id)}
                      >
                        Restore the shipped one
                      </button>
                    )}
                  </p>
                ))}
              </li>
            ))}
          </ul>
          <label className="act mt-3 inline-block">
            Import a profile…
            <input
              type="file"
              accept=".json,application/json"
              aria-label="profile from a file"
              className="sr-only"
              onChange={(e) => {
                const file = e.target.files?.[0];
                if (!file) return;
                setOpened(file.name);
                void file.text().then(profile.write);
              }}
            />
          </label>
        </div>
        {profile.text === null ? (
          <p className="text-soft">Open a renderer, or import a profile, to see it here.</p>
        ) : (
          <div className="min-w-0 space-y-3">
            <ProfileText text={profile.text} problems={verdict?.problems ?? []} onChange={profile.write} />
            <div className="flex flex-wrap items-center gap-2">
              <button
                data-testid="profile-check"
                className="act"
                data-main="true"
                disabled={profile.check.isPending}
                onClick={() => profile.check.mutate()}
              >
                Check
              </button>
              <Combobox
                label="try it on a look"
                testid="profile-try"
                value=""
                placeholder={profile.attempt.isPending ? "rendering…" : "Try it on a look…"}
                options={looks.data?.map((l) => ({ value: l.id, words: l.name })) ?? []}
                onChange={(chosen) => profile.attempt.mutate(chosen)}
              />
              {admin && verdict && verdict.problems.length === 0 && (
                <form
                  className="flex grow gap-2"
                  onSubmit={(e) => {
                    e.preventDefault();
                    profile.keep.mutate(note);
                  }}
                >
                  <input
                    className="entry grow"
                    aria-label="what changed in the profile"
                    placeholder="what changed"
                    value={note}
                    onChange={(e) => setNote(e.target.value)}
                  />
                  <button className="act">{verdict.affected.length > 0 ? "Use it anyway" : "Use this version"}</button>
                </form>
              )}
            </div>
            {verdict && verdict.problems.length === 0 && (
              <div role="status">
                <p>
                  No problems found.{" "}
                  {verdict.replaces
                    ? verdict.affected.length === 0
                      ? `Every look is exported for ${verdict.replaces} as before.`
                      : `${verdict.affected.length} looks would be exported differently for ${verdict.replaces}:`
                    : `${verdict.title} is a new renderer.`}
                </p>
                <ul className="max-h-24 overflow-auto">
                  {verdict.affected.map((a) => (
                    <li key={a.look} className="border-b border-rule py-0.5">
                      {a.name}{" "}
                      <span className="font-mono text-small text-soft">{a.trouble ?? a.changed.join(", ")}</span>
                    </li>
                  ))}
                </ul>
                {verdict.unseen > 0 && <p className="text-soft">{verdict.unseen} more looks were not tried.</p>}
              </div>
            )}
            {profile.tried && <ProfileTrial tried={profile.tried} />}
          </div>
        )}
      </div>
    </div>
  );
}
