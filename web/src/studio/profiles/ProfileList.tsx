import type { ProfileInfo } from "../../api/types";
import type { OpenedProfile } from "./useProfile";

interface Props {
  profiles: readonly ProfileInfo[];
  opened: string | null;
  isAdmin: boolean;
  onOpen: (what: OpenedProfile) => void;
  onTakeBack: (dialect: string) => void;
  onFile: (name: string, text: string) => void;
}

/** The renderers of the studio with their versions, and a profile from a file. */
export function ProfileList({ profiles, opened, isAdmin, onOpen, onTakeBack, onFile }: Props) {
  return (
    <div>
      <ul aria-label="renderers">
        {profiles.map((p) => (
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
                onClick={() => onOpen({ dialect: p.id })}
              >
                Open
              </button>
            </div>
            {p.versions.map((v) => (
              <p key={v.id} className="flex items-baseline gap-2 text-small text-soft">
                <button className="underline" onClick={() => onOpen({ version: v.id })}>
                  version {v.version}
                </button>
                <span className="grow">
                  {v.note} · {v.person}
                  {v.inForce && ", in use"}
                </span>
                {v.inForce && isAdmin && (
                  <button
                    className="underline"
                    aria-label={`Restore the shipped one of ${p.title}`}
                    onClick={() => onTakeBack(p.id)}
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
            if (file) void file.text().then((text) => onFile(file.name, text));
          }}
        />
      </label>
    </div>
  );
}
