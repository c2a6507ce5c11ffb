import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { toast } from "sonner";
import { get, send } from "../../api/client";
import type { ProfileVerdict, ProfileVersionInfo, TriedProfile } from "../../api/types";
import { keys } from "../../api/keys";

/** A profile's text on its way from a file or a dialect to a version of the studio. */
export function useProfile() {
  const client = useQueryClient();
  const [text, setText] = useState<string | null>(null);
  const [verdict, setVerdict] = useState<ProfileVerdict | null>(null);
  const [tried, setTried] = useState<TriedProfile | null>(null);
  const failed = (error: Error) => toast.error(error.message, { duration: 8000 });
  const write = (next: string | null) => {
    setText(next);
    setVerdict(null);
    setTried(null);
  };
  const check = useMutation({
    mutationFn: () => send<ProfileVerdict>("POST", "/profiles/check", { text }),
    onSuccess: setVerdict,
    onError: failed,
  });
  const attempt = useMutation({
    mutationFn: (look: string) => send<TriedProfile>("POST", `/profiles/try?look=${look}`, { text }),
    onSuccess: setTried,
    onError: failed,
  });
  const again = () => {
    void client.invalidateQueries({ queryKey: keys.profiles() });
    void client.invalidateQueries({ queryKey: keys.studio() });
    void client.invalidateQueries({ queryKey: keys.board() });
  };
  const keep = useMutation({
    mutationFn: (note: string) =>
      send<ProfileVersionInfo>("POST", "/profiles", { text, note, knowing: (verdict?.affected.length ?? 0) > 0 }),
    onSuccess: (version) => {
      toast(`${verdict?.title}: version ${version.version} is in use`, { duration: 6000 });
      again();
    },
    onError: failed,
  });
  const takeBack = useMutation({
    mutationFn: (dialect: string) => send("DELETE", `/profiles/${dialect}`),
    onSuccess: again,
    onError: failed,
  });
  return {
    text,
    write,
    open: async (path: string) => write((await get<{ text: string }>(path)).text),
    verdict,
    check,
    tried,
    attempt,
    keep,
    takeBack,
  };
}
