import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { post } from "../../api/client";
import type { ColourInfo } from "../../api/types";
import { keys } from "../../api/keys";

/** The config's roles, its file rules with a line to try them, and its displays. */
export function RolesAndRules({ colour }: { colour: ColourInfo }) {
  const [name, setName] = useState("pier_albedo.png");
  const tried = useQuery({
    queryKey: keys.colour("try", name, colour.hash),
    queryFn: () => post("/api/v1/colour/try-file", { body: { name } }),
    enabled: name.trim() !== "",
    placeholderData: keepPreviousData,
  });
  return (
    <div className="space-y-5">
      <section aria-labelledby="file-rules">
        <h2 id="file-rules" className="mb-1 font-medium">
          File rules
        </h2>
        <input
          className="entry w-full font-mono"
          aria-label="file name for the rules"
          value={name}
          onChange={(e) => setName(e.target.value)}
        />
        <p className="my-1" role="status">
          {tried.data?.rule ? (
            <>
              rule “{tried.data.rule}”: {tried.data.space}
              {tried.data.sameAs && <span className="font-mono text-soft"> = {tried.data.sameAs}</span>}
            </>
          ) : (
            <span className="text-soft">No rule matches this name.</span>
          )}
        </p>
        <table className="w-full text-left text-small">
          <tbody>
            {colour.fileRules.map((r) => (
              <tr key={r.name} className={`border-t border-rule ${tried.data?.rule === r.name ? "bg-glaze-pale" : ""}`}>
                <td className="py-0.5 pr-2">{r.name}</td>
                <td className="pr-2 font-mono break-all">{r.condition}</td>
                <td>{r.space}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </section>
      <section aria-labelledby="roles">
        <h2 id="roles" className="mb-1 font-medium">
          Roles
        </h2>
        <table className="w-full text-left text-small">
          <tbody>
            {colour.roles.map((r) => (
              <tr key={r.role} className="border-t border-rule">
                <td className="py-0.5 pr-2 font-mono">{r.role}</td>
                <td>{r.space}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </section>
      {colour.displays.length > 0 && (
        <section aria-labelledby="displays">
          <h2 id="displays" className="mb-1 font-medium">
            Displays
          </h2>
          <ul className="text-small">
            {colour.displays.map((d) => (
              <li key={d.name} className="border-t border-rule py-0.5">
                {d.name}: <span className="text-soft">{d.views.join(", ")}</span>
              </li>
            ))}
          </ul>
        </section>
      )}
    </div>
  );
}
