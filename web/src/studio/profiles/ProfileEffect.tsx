import type { ProfileVerdict } from "../../api/types";

interface Props {
  verdict: ProfileVerdict;
  /** Whether the verdict is about an older text, and the one shown is being checked. */
  isOld: boolean;
}

/** What is known of a profile before it is kept: how many problems, and which looks would be exported differently. */
export function ProfileEffect({ verdict, isOld }: Props) {
  const { problems, affected } = verdict;
  if (problems.length > 0)
    return (
      <p role="status" data-testid="profile-state">
        {problems.length === 1 ? "1 problem" : `${problems.length} problems`}: {problems[0].sentence}
        {isOld && <span className="text-soft"> Checking again…</span>}
      </p>
    );
  return (
    <div role="status" data-testid="profile-state">
      <p>
        No problems found.{" "}
        {verdict.replaces
          ? affected.length === 0
            ? `Every look is exported for ${verdict.replaces} as before.`
            : `${affected.length} looks would be exported differently for ${verdict.replaces}:`
          : `${verdict.title} is a new renderer.`}
        {isOld && <span className="text-soft"> Checking again…</span>}
      </p>
      {affected.length > 0 && (
        <ul className="max-h-24 overflow-auto" tabIndex={0} aria-label="looks that would be exported differently">
          {affected.map((a) => (
            <li key={a.look} className="border-b border-rule py-0.5">
              {a.name} <span className="font-mono text-small text-soft">{a.trouble ?? a.changed.join(", ")}</span>
            </li>
          ))}
        </ul>
      )}
      {verdict.unseen > 0 && <p className="text-soft">{verdict.unseen} more looks were not tried.</p>}
    </div>
  );
}
