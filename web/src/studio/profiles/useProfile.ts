import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { toast } from "sonner";
import { del, get, post } from "../../api/client";
import { keys } from "../../api/keys";
import type { TriedProfile } from "../../api/types";
import { useDraft } from "../../forms/useDraft";
import { useSettled } from "../../forms/useSettled";

/** A profile that can be opened: that of a renderer as it is in use, or one version of the studio. */
export type OpenedProfile = { dialect: string } | { version: string };

const quiet = 700;

/** A profile on its way from a file or a renderer to a version of the studio. It is checked whenever it has not changed for a moment. */
export function useProfile(mayCheck: boolean) {
  const client = useQueryClient();
  /** What was opened: its name, and its text as it was then. */
  const [opened, setOpened] = useState<{ name: string; text: string } | null>(null);
  const draft = useDraft(opened?.text ?? "");
  const asked = useSettled(draft.text, quiet);
  const [tried, setTried] = useState<{ of: string; found: TriedProfile } | null>(null);
  const failed = (error: Error) => toast.error(error.message, { duration: 8000 });
  const check = useQuery({
    queryKey: keys.profileChecked(opened?.name, asked),
    // Given up when the text changes, so that the server does not go on with it.
    queryFn: ({ signal }) => post("/api/v1/profiles/check", { body: { text: asked }, signal }),
    enabled: mayCheck && opened !== null && asked !== "",
    gcTime: 0,
    // Until the next answer the last one stands, of the same profile only.
    placeholderData: (before, query) => (query?.queryKey[1] === opened?.name ? before : undefined),
  });
  const take = (name: string, text: string) => {
    draft.discard();
    setTried(null);
    setOpened({ name, text });
  };
  const attempt = useMutation({
    mutationFn: async (look: string) => ({
      of: draft.text,
      found: await post("/api/v1/profiles/try", { params: { query: { look } }, body: { text: draft.text } }),
    }),
    onSuccess: setTried,
    onError: failed,
  });
  const again = () => {
    void client.invalidateQueries({ queryKey: keys.profiles() });
    void client.invalidateQueries({ queryKey: keys.studio() });
    void client.invalidateQueries({ queryKey: keys.board() });
    void client.invalidateQueries({ queryKey: keys.profileChecked() });
  };
  const isSettled = asked === draft.text;
  const verdict = check.data ?? null;
  const keep = useMutation({
    mutationFn: (note: string) =>
      post("/api/v1/profiles", {
        body: {
          text: draft.text,
          note,
          knowing: (verdict?.affected.length ?? 0) > 0,
        },
      }),
    onSuccess: (version) => {
      toast(`${verdict?.title}: version ${version.version} is in use`, { duration: 6000 });
      setOpened({ name: opened!.name, text: draft.text });
      draft.discard();
      again();
    },
    onError: failed,
  });
  const takeBack = useMutation({
    mutationFn: (dialect: string) => del("/api/v1/profiles/{dialect}", { params: { path: { dialect } } }),
    onSuccess: again,
    onError: failed,
  });
  return {
    opened,
    draft,
    open: async (what: OpenedProfile) => {
      try {
        const { text } =
          "version" in what
            ? await get("/api/v1/profiles/versions/{id}/text", { params: { path: { id: what.version } } })
            : await get("/api/v1/profiles/{dialect}/text", { params: { path: { dialect: what.dialect } } });
        take("version" in what ? what.version : what.dialect, text);
      } catch (error) {
        failed(error as Error);
      }
    },
    take,
    /** Null while the text as it is now has not been checked. */
    verdict: isSettled && !check.isFetching && !check.isPlaceholderData ? verdict : null,
    /** What was found last, which may be about an older text. */
    lastVerdict: verdict,
    checkFailed: check.error,
    tried: tried?.of === draft.text ? tried.found : null,
    attempt,
    keep,
    takeBack,
  };
}
