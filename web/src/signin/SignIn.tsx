import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { post, setToken } from "../api/client";
import type { Session } from "../api/types";
import { LabelledEntry } from "../ui/LabelledEntry";
import { keys } from "../api/keys";

/** A studio without people says how to make the first one; a demo says who its people are. */
function firstWords(session: Session): string {
  if (session.empty)
    return "Nobody can sign in here yet. Open the link that the server printed when it started, or run: kiln people add NAME --role admin";
  return session.demo ? "Demo accounts are printed where the server was started." : "";
}

export function SignIn({ session }: { session: Session }) {
  const client = useQueryClient();
  const [name, setName] = useState("");
  const [password, setPassword] = useState("");
  const signIn = useMutation({
    mutationFn: () => post("/api/v1/session", { body: { name, password } }),
    onSuccess: (session) => {
      setToken(session.token);
      client.setQueryData(keys.session(), session);
    },
    onError: () => undefined,
  });
  return (
    <main className="grid h-full grid-cols-[minmax(0,1fr)_minmax(0,1fr)]">
      <section className="flex flex-col justify-end bg-ink p-12 text-panel">
        <h1 className="text-[44px] leading-[1.05] font-medium">Nimble Kiln</h1>
        <p className="mt-4 max-w-sm text-large">
          From downloaded maps to a surface you can trust, in every renderer, with the reasons shown.
        </p>
      </section>
      <section className="flex items-center px-16">
        <form
          className="w-72 space-y-4"
          onSubmit={(e) => {
            e.preventDefault();
            signIn.mutate();
          }}
        >
          <h2 className="text-title font-medium">Sign in</h2>
          <LabelledEntry label="Name" name="name" autoFocus autoComplete="username" value={name} onChange={setName} />
          <LabelledEntry
            label="Password"
            name="password"
            kind="password"
            autoComplete="current-password"
            value={password}
            onChange={setPassword}
          />
          <button data-testid="sign-in" className="act w-full py-1.5" data-main="true" disabled={signIn.isPending}>
            Sign in
          </button>
          <p role="alert" className="min-h-10 text-soft">
            {signIn.error ? signIn.error.message : firstWords(session)}
          </p>
        </form>
      </section>
    </main>
  );
}
