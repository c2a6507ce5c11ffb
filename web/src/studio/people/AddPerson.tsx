import { useMutation } from "@tanstack/react-query";
import { useState } from "react";
import { post } from "../../api/client";
import type { InvitedPerson } from "../../api/types";
import { Select } from "../../ui/Select";
import { named } from "../../ui/names";

/** Invites somebody: they choose their password by the link that the answer holds. */
export function AddPerson({ roles, onAdded }: { roles: string[]; onAdded: (person: InvitedPerson) => void }) {
  const [name, setName] = useState("");
  const [shown, setShown] = useState("");
  const [role, setRole] = useState("artist");
  const add = useMutation({
    mutationFn: () =>
      post("/api/v1/people", { body: { name: name.trim(), role, shownName: shown.trim() || undefined } }),
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
      aria-label="add a person"
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
        <Select
          label="role"
          className="block w-28 text-base text-ink"
          testid="person-role"
          value={role}
          options={named(roles)}
          onChange={(chosen) => setRole(chosen)}
        />
      </label>
      <button data-testid="person-add" className="act h-[26px] self-end" disabled={add.isPending || name.trim() === ""}>
        Add and create a link
      </button>
      {add.error && <span role="alert">{add.error.message}</span>}
    </form>
  );
}
