import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { post } from "../../api/client";
import { keys } from "../../api/keys";

/** Type a file name and see how it is taken apart. */
export function TryName() {
  const [name, setName] = useState("verdigris_copper_pipe_normal_dx_2k_16bit.png");
  const tried = useQuery({
    queryKey: keys.tryName(name),
    queryFn: () => post("/api/v1/naming/try", { body: { name, with: null } }),
    enabled: name.trim() !== "",
    placeholderData: keepPreviousData,
  });
  const t = tried.data;
  return (
    <section aria-labelledby="try">
      <h2 id="try" className="mb-1 font-medium">
        Try a file name
      </h2>
      <input
        className="entry w-full font-mono"
        aria-label="file name"
        value={name}
        onChange={(e) => setName(e.target.value)}
      />
      {t && (
        <>
          <ul aria-label="tokens" className="mt-2 flex flex-wrap gap-1">
            {t.tokens.map((token, i) => (
              <li key={i} className="border border-rule bg-raised px-1.5 text-center">
                <span className="block font-mono">{token.text}</span>
                <span className="block text-small text-soft">{token.kind || "·"}</span>
              </li>
            ))}
          </ul>
          <dl className="mt-2 grid grid-cols-[110px_minmax(0,1fr)] gap-y-0.5">
            <dt className="text-soft">most likely:</dt>
            <dd>{t.likely}</dd>
            <dt className="text-soft">surface</dt>
            <dd className="font-mono">{t.surface || "named by its folder"}</dd>
            {t.meanings.length > 1 && (
              <>
                <dt className="text-soft">may also be</dt>
                <dd>{t.meanings.slice(1).join("; ")}</dd>
              </>
            )}
          </dl>
          <p className="mt-1 text-small text-soft">In a delivery the other files and the pictures count too.</p>
        </>
      )}
    </section>
  );
}
