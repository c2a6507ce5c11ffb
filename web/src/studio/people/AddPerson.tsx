import { useMutation } from "@tanstack/react-query";
import { useState } from "react";
import { send } from "../../api/client";
import type { InvitedPerson } from "../../api/types";

/** Invites somebody: they choose their password by the link that the answer holds. */
export function AddPerson({ roles, onAdded }: { roles: string[]; onAdded: (person: InvitedPerson) => void }) {
  const [name, setName] = useState("");
  const [shown, setShown] = useState("");
  const [role, setRole] = useState("artist");
  const add = useMutation({
    mutationFn: () =>
      send<InvitedPerson>("POST", "/people", { name: name.trim(), role, shownName: shown.trim() || undefined }),
    onSuccess: (person) => {
      setName("");
      setShown("");
      onAdded(person);
    },
    onError: () => undefined,
  });
  return (
    <form
      className="mt-3 flex items-end gap-2"
      aria-label="add somebody"
      onSubmit={(e) => {
        e.preventDefault();
        add.mutate();
      }}
    >
      <label className="text-small text-soft">
        Name to sign in with
        <input className="entry block" name="person-name" value={name} onChange={(e) => setName(e.target.value)} />
      </label>
      <label className="text-small text-soft">
        Shown as
        <input className="entry block" name="person-shown" value={shown} onChange={(e) => setShown(e.target.value)} />
      </label>
      <label className="text-small text-soft">
        Role
        <select
          className="entry block"
          name="person-role"
          aria-label="role"
          value={role}
          onChange={(e) => setRole(e.target.value)}
        >
          {roles.map((r) => (
            <option key={r}>{r}</option>
          ))}
        </select>
      </label>
      <button className="act h-[26px] self-end" disabled={add.isPending || name.trim() === ""}>
        Add and make a link
      </button>
      {add.error && <span role="alert">{add.error.message}</span>}
    </form>
  );
}
