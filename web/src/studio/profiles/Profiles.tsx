import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { get } from "../../api/client";
import { keys } from "../../api/keys";
import { useLooks } from "../../api/queries";
import type { Session } from "../../api/types";
import { FormOrText } from "../../forms/FormOrText";
import { Combobox } from "../../ui/Combobox";
import { StudioHeading } from "../StudioHeading";
import { ProfileForm } from "./form/ProfileForm";
import { ProfileEffect } from "./ProfileEffect";
import { ProfileList } from "./ProfileList";
import { ProfileTrial } from "./ProfileTrial";
import { useProfile } from "./useProfile";

/** The renderers and the profiles that describe them: opened, checked as they change, tried on a look, kept as a version of the studio. */
export function Profiles({ session }: { session: Session }) {
  const list = useQuery({ queryKey: keys.profiles(), queryFn: () => get("/api/v1/profiles") });
  const profile = useProfile(session.role !== "viewer");
  const isAdmin = session.role === "admin";
  return (
    <div className="max-w-[1500px] p-6">
      <StudioHeading />
      <p className="mb-3 text-soft">
        A renderer is described by a profile: its inputs, formulas, nodes and textures. Open one, change it, try it on a
        look. A version in use is never changed; the next one replaces it.
      </p>
      <div className="grid gap-6 lg:grid-cols-[280px_minmax(0,1fr)]">
        <ProfileList
          profiles={list.data ?? []}
          opened={profile.opened?.name ?? null}
          isAdmin={isAdmin}
          onOpen={(what) => void profile.open(what)}
          onTakeBack={(dialect) => profile.takeBack.mutate(dialect)}
          onFile={profile.take}
        />
        {profile.opened === null ? (
          <p className="text-soft">Open a renderer, or import a profile, to see it here.</p>
        ) : (
          <Opened profile={profile} session={session} />
        )}
      </div>
    </div>
  );
}

function Opened({ profile, session }: { profile: ReturnType<typeof useProfile>; session: Session }) {
  const looks = useLooks();
  const schema = useQuery({
    queryKey: keys.profileSchema(),
    queryFn: () => get("/api/v1/profiles/schema"),
    staleTime: Infinity,
  });
  const { draft, verdict, lastVerdict } = profile;
  return (
    <div className="min-w-0">
      {profile.tried && <ProfileTrial tried={profile.tried} />}
      <FormOrText
        draft={draft}
        label="text of the profile"
        head={
          <>
            {lastVerdict ? (
              <ProfileEffect verdict={lastVerdict} isOld={verdict === null} />
            ) : profile.checkFailed ? (
              <p role="alert">{profile.checkFailed.message}</p>
            ) : (
              <p className="text-soft">{session.role === "viewer" ? "Viewers read profiles." : "Checking…"}</p>
            )}
            {session.role === "admin" && draft.isChanged && verdict?.problems.length === 0 && (
              <KeepForm affects={verdict.affected.length} onKeep={(note) => profile.keep.mutate(note)} />
            )}
          </>
        }
        faults={lastVerdict?.problems ?? []}
        readOnly={session.role === "viewer"}
        actions={
          session.role !== "viewer" && (
            <Combobox
              label="try it on a look"
              testid="profile-try"
              value=""
              placeholder={profile.attempt.isPending ? "rendering…" : "Try it on a look…"}
              options={looks.data?.map((l) => ({ value: l.id, words: l.name })) ?? []}
              onChange={(chosen) => profile.attempt.mutate(chosen)}
            />
          )
        }
      >
        {schema.data ? (
          <ProfileForm schema={schema.data} draft={draft} verdict={lastVerdict} />
        ) : (
          <p className="text-soft">{schema.error ? schema.error.message : "Opening the form…"}</p>
        )}
      </FormOrText>
    </div>
  );
}

function KeepForm({ affects, onKeep }: { affects: number; onKeep: (note: string) => void }) {
  const [note, setNote] = useState("");
  return (
    <form
      className="flex gap-2"
      onSubmit={(e) => {
        e.preventDefault();
        onKeep(note);
      }}
    >
      <input
        className="entry grow"
        aria-label="what changed in the profile"
        placeholder="what changed"
        value={note}
        onChange={(e) => setNote(e.target.value)}
      />
      <button className="act" data-testid="profile-keep">
        {affects > 0 ? "Use it anyway" : "Use this version"}
      </button>
    </form>
  );
}
