import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { toast } from "sonner";
import { del, get, put } from "../../api/client";
import { PasswordEntries } from "../../signin/Welcome";
import { LabelledEntry } from "../../ui/LabelledEntry";
import { browserWords, momentWords } from "../../ui/moments";
import { Tip } from "../../ui/Tip";
import { keys } from "../../api/keys";

/** One's own password, and the sessions that are open: one's own, or everybody's for an admin. */
export function Account({ admin }: { admin: boolean }) {
  return (
    <div className="mb-8 grid grid-cols-[minmax(0,18rem)_minmax(0,1fr)] gap-10">
      <OwnPassword />
      <OpenSessions admin={admin} />
    </div>
  );
}

function OwnPassword() {
  const [current, setCurrent] = useState("");
  const [password, setPassword] = useState("");
  const [again, setAgain] = useState("");
  const change = useMutation({
    mutationFn: () => put("/api/v1/session/password", { body: { current, password } }),
    onSuccess: () => {
      setCurrent("");
      setPassword("");
      setAgain("");
      toast("Your password is changed; your other sessions have ended.");
    },
    onError: () => undefined,
  });
  return (
    <section aria-labelledby="own-password">
      <h2 id="own-password" className="mb-1 font-medium">
        Your password
      </h2>
      <form
        className="space-y-3"
        onSubmit={(e) => {
          e.preventDefault();
          change.mutate();
        }}
      >
        <LabelledEntry
          label="Current password"
          name="current-password"
          kind="password"
          autoComplete="current-password"
          value={current}
          onChange={setCurrent}
        />
        <PasswordEntries password={password} again={again} onPassword={setPassword} onAgain={setAgain} />
        <button className="act" disabled={change.isPending || current === "" || password === "" || password !== again}>
          Change password
        </button>
        <p role="alert" className="min-h-5 text-small text-soft">
          {change.error?.message}
        </p>
      </form>
    </section>
  );
}

function OpenSessions({ admin }: { admin: boolean }) {
  const client = useQueryClient();
  const sessions = useQuery({
    queryKey: keys.sessions(),
    queryFn: () => get("/api/v1/sessions", { params: { query: admin ? { all: true } : {} } }),
  });
  const end = useMutation({
    mutationFn: (id: string) => del("/api/v1/sessions/{id}", { params: { path: { id } } }),
    onSuccess: () => client.invalidateQueries({ queryKey: keys.sessions() }),
  });
  return (
    <section aria-labelledby="sessions">
      <h2 id="sessions" className="mb-1 font-medium">
        Open sessions
      </h2>
      <ul className="max-h-80 overflow-auto">
        {sessions.data?.map((s) => (
          <li key={s.id} className="flex items-baseline gap-3 border-b border-rule py-1">
            {admin && <span className="w-20 shrink-0">{s.person}</span>}
            <Tip words={s.browser}>
              <span className="min-w-0 flex-1 truncate text-small text-soft">
                {browserWords(s.browser)} · {s.address}
              </span>
            </Tip>
            <span className="shrink-0 text-small text-soft">{momentWords(s.lastSeen)}</span>
            {s.isThis ? (
              <span className="w-24 shrink-0 text-right text-small">this session</span>
            ) : (
              <button className="act w-24 shrink-0 px-1 text-small" onClick={() => end.mutate(s.id)}>
                End session
              </button>
            )}
          </li>
        ))}
      </ul>
    </section>
  );
}
