import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate } from "react-router";
import { post, setToken } from "../api/client";
import { LabelledEntry } from "../ui/LabelledEntry";
import { keys } from "../api/keys";

/**
 * Where a one-time link leads: the first admin of an empty studio, somebody who was invited, or whose password was
 * reset. The token stays behind the #, so no server logs it.
 */
export function Welcome() {
  const client = useQueryClient();
  const navigate = useNavigate();
  const [token] = useState(() => window.location.hash.slice(1));
  const [name, setName] = useState("");
  const [password, setPassword] = useState("");
  const [again, setAgain] = useState("");
  const link = useQuery({
    queryKey: keys.link(token),
    queryFn: () => post("/api/v1/session/link/look", { body: { token } }),
    retry: false,
    staleTime: Infinity,
  });
  const use = useMutation({
    mutationFn: () => post("/api/v1/session/link", { body: { token, password, name: link.data?.name ?? name.trim() } }),
    onSuccess: (session) => {
      setToken(session.token);
      client.setQueryData(keys.session(), session);
      void navigate("/intake", { replace: true });
    },
    onError: () => undefined,
  });
  const differs = again !== "" && again !== password;
  return (
    <main className="mx-auto max-w-md px-6 py-16">
      <h1 className="text-title font-medium">Welcome to Nimble Kiln</h1>
      {link.isPending && <p className="mt-4 text-soft">Opening…</p>}
      {link.error && (
        <p role="alert" className="mt-4">
          {link.error.message}
        </p>
      )}
      {link.data && (
        <form
          className="mt-6 space-y-4"
          onSubmit={(e) => {
            e.preventDefault();
            use.mutate();
          }}
        >
          <p className="text-soft">
            {link.data.name
              ? `Choose a password for ${link.data.name}.`
              : "You are the first here. Choose a name and a password; you will be an admin."}
          </p>
          {!link.data.name && (
            <LabelledEntry label="Name" name="name" autoFocus autoComplete="username" value={name} onChange={setName} />
          )}
          <PasswordEntries password={password} again={again} onPassword={setPassword} onAgain={setAgain} />
          <button
            data-testid="begin"
            className="act w-full py-1.5"
            data-main="true"
            disabled={use.isPending || differs || password === "" || again === ""}
          >
            Begin
          </button>
          <p role="alert" className="min-h-10 text-soft">
            {use.error ? use.error.message : differs ? "The two are not the same yet." : ""}
          </p>
        </form>
      )}
    </main>
  );
}

/** A new password, typed twice. */
export function PasswordEntries(props: {
  password: string;
  again: string;
  onPassword: (text: string) => void;
  onAgain: (text: string) => void;
}) {
  return (
    <>
      <LabelledEntry
        label="New password"
        note="at least 12 characters; a few words are fine"
        name="new-password"
        kind="password"
        autoComplete="new-password"
        value={props.password}
        onChange={props.onPassword}
      />
      <LabelledEntry
        label="Once more"
        name="password-again"
        kind="password"
        autoComplete="new-password"
        value={props.again}
        onChange={props.onAgain}
      />
    </>
  );
}
