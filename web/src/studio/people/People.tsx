import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { get, patch, post } from "../../api/client";
import type { InvitedPerson, Session } from "../../api/types";
import { momentWords } from "../../ui/moments";
import { StudioHeading } from "../StudioHeading";
import { AddPerson } from "./AddPerson";
import { Account } from "./Account";
import { Select } from "../../ui/Select";
import { named } from "../../ui/names";
import { keys } from "../../api/keys";

const roles = ["viewer", "artist", "lead", "admin"];

/** People of the studio for admins; for everybody their own password and sessions. */
export function People({ session }: { session: Session }) {
  const admin = session.role === "admin";
  return (
    <div className="max-w-5xl p-6">
      <StudioHeading />
      {admin && <PeopleList own={session.name ?? ""} />}
      <Account admin={admin} />
      {admin && <AuditList />}
    </div>
  );
}

function PeopleList({ own }: { own: string }) {
  const client = useQueryClient();
  const people = useQuery({ queryKey: keys.people(), queryFn: () => get("/api/v1/people") });
  const [invited, setInvited] = useState<InvitedPerson>();
  const again = () => {
    void client.invalidateQueries({ queryKey: keys.people() });
    void client.invalidateQueries({ queryKey: keys.audit() });
    void client.invalidateQueries({ queryKey: keys.sessions() });
  };
  const change = useMutation({
    mutationFn: ({ name, ...what }: { name: string; role?: string; disabled?: boolean }) =>
      patch("/api/v1/people/{name}", { params: { path: { name } }, body: what }),
    onSuccess: again,
  });
  const reset = useMutation({
    mutationFn: (name: string) => post("/api/v1/people/{name}/reset", { params: { path: { name } } }),
    onSuccess: (person) => {
      setInvited(person);
      again();
    },
  });
  return (
    <section aria-labelledby="people" className="mb-8">
      <h2 id="people" className="mb-1 font-medium">
        People
      </h2>
      <table className="w-full text-left">
        <thead className="text-small text-soft">
          <tr>
            <th className="py-1 font-normal">Name</th>
            <th className="font-normal">Shown as</th>
            <th className="font-normal">Role</th>
            <th className="font-normal">State</th>
            <th className="font-normal">Last seen</th>
            <th>
              <span className="sr-only">actions</span>
            </th>
          </tr>
        </thead>
        <tbody>
          {people.data?.map((p) => (
            <tr key={p.name} className="border-t border-rule" data-testid={`person-${p.name}`}>
              <td className="py-1.5">{p.name}</td>
              <td>{p.shownName}</td>
              <td>
                <Select
                  label={`role of ${p.name}`}
                  value={p.role}
                  options={named(roles)}
                  onChange={(chosen) => change.mutate({ name: p.name, role: chosen })}
                />
              </td>
              <td>{p.state}</td>
              <td className="text-small text-soft">{p.lastSeen ? momentWords(p.lastSeen) : "never"}</td>
              <td className="space-x-2 text-right">
                <button className="act text-small" onClick={() => reset.mutate(p.name)}>
                  {p.state === "invited" ? "New link" : "Reset password"}
                </button>
                {p.name !== own && (
                  <button
                    className="act text-small"
                    onClick={() => change.mutate({ name: p.name, disabled: p.state !== "disabled" })}
                  >
                    {p.state === "disabled" ? "Enable" : "Disable"}
                  </button>
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <AddPerson
        roles={roles}
        onAdded={(person) => {
          setInvited(person);
          again();
        }}
      />
      {invited?.link && <LinkShown invited={invited} />}
    </section>
  );
}

/** A link is shown once; only its hash is kept. */
function LinkShown({ invited }: { invited: InvitedPerson }) {
  const address = window.location.origin + (invited.link ?? "");
  return (
    <p role="status" className="mt-3 border border-rule bg-sunken p-3">
      Give {invited.person.shownName} this link. It works once
      {invited.linkExpires && `, until ${momentWords(invited.linkExpires)}`}, and is not shown again:
      <span className="mt-1 block font-mono text-small break-all" data-testid="link">
        {address}
      </span>
      <button className="act mt-2 text-small" onClick={() => void navigator.clipboard.writeText(address)}>
        Copy
      </button>
    </p>
  );
}

function AuditList() {
  const audit = useQuery({ queryKey: keys.audit(), queryFn: () => get("/api/v1/people/audit") });
  return (
    <section aria-labelledby="audit">
      <h2 id="audit" className="mb-1 font-medium">
        Changes
      </h2>
      {audit.data?.length === 0 && <p className="text-soft">Nothing yet.</p>}
      <ul className="max-h-72 overflow-auto">
        {audit.data?.map((line) => (
          <li key={line.number} className="flex gap-3 border-b border-rule py-1 text-small">
            <span className="w-40 shrink-0 text-soft">{momentWords(line.at)}</span>
            <span className="w-24 shrink-0">{line.person}</span>
            <span>
              {words[line.action] ?? line.action} {line.subject}
              {line.detail && ` (${line.detail})`}
            </span>
            <span className="grow text-right font-mono text-soft">{line.address}</span>
          </li>
        ))}
      </ul>
    </section>
  );
}

const words: Record<string, string> = {
  "person.added": "added",
  "person.role": "changed the role of",
  "person.disabled": "disabled",
  "person.enabled": "enabled",
  "person.renamed": "renamed",
  "person.password": "set the password of",
  "person.reset": "reset the password of",
  "person.link": "chose a password by a link:",
};
