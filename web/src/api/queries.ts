/** What the server knows, as queries. */
import { HubConnectionBuilder, HubConnectionState, LogLevel } from "@microsoft/signalr";
import { keepPreviousData, useInfiniteQuery, useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { get, setToken } from "./client";
import { refresh } from "./refresh";
import { takeStepTable } from "./steps";
import type { LookInfo, LookSummary, Session } from "./types";
import { keys } from "./keys";

export async function loadSession(): Promise<Session> {
  const session = await get("/api/v1/session");
  setToken(session.token);
  return session;
}

/** How two proofs are compared as numbers: small and rough, since only their mean counts. */
export const compared = { size: 160, samples: 24 };

export const useSession = () => useQuery({ queryKey: keys.session(), queryFn: loadSession, staleTime: Infinity });
/** The kinds of steps; kept where everything that shows steps finds them. */
export const useStepTable = () =>
  useQuery({
    queryKey: keys.steps(),
    queryFn: async () => {
      takeStepTable(await get("/api/v1/steps"));
      return true;
    },
    staleTime: Infinity,
  });

export const useStudio = () =>
  useQuery({ queryKey: keys.studio(), queryFn: () => get("/api/v1/house"), staleTime: Infinity });
/** The space that the open look is worked in, else the studio's. */
export function useWorkingSpace(look?: string): string {
  const studio = useStudio();
  const known = useQueryClient().getQueryData<LookInfo>(keys.look(look ?? lookOf(window.location.pathname)));
  return known?.working.id ?? studio.data?.working.id ?? "acescg";
}
const lookOf = (path: string) => /^\/looks\/([0-9a-f-]{36})/.exec(path)?.[1] ?? "";
export const useDeliveries = () => useQuery({ queryKey: keys.deliveries(), queryFn: () => get("/api/v1/deliveries") });
export const useDelivery = (id: string) =>
  useQuery({
    queryKey: keys.delivery(id),
    queryFn: () => get("/api/v1/deliveries/{id}", { params: { path: { id } } }),
  });
export const useLooks = (collection?: string) =>
  useQuery({
    queryKey: keys.looks(collection ?? "all"),
    queryFn: () => get("/api/v1/looks", { params: { query: { collection } } }),
  });
/** What looks are looked for by; empty asks for nothing. */
export interface Wanted {
  collection?: string;
  words?: string;
  state?: string;
  tag?: string;
  archived?: boolean;
  role?: string;
  author?: string;
  since?: string;
  dialect?: string;
  finding?: string;
  /** As sRGB hex. */
  colour?: string;
  /** How near, ΔE. */
  within?: string;
}
const page = 60;
/** Looks found, a page at a time in the order of their names. */
export const useFoundLooks = (wanted: Wanted, enabled = true) =>
  useInfiniteQuery({
    queryKey: keys.looks("found", wanted),
    queryFn: ({ pageParam }) => {
      const { archived, within, ...asked } = wanted;
      // What is empty asks for nothing.
      const given = Object.fromEntries(Object.entries(asked).filter(([, value]) => value));
      return get("/api/v1/looks", {
        params: {
          query: {
            ...given,
            most: page,
            ...(archived && { archived }),
            ...(within && { within: Number(within) }),
            ...(pageParam && { afterName: pageParam.name, afterId: pageParam.id }),
          },
        },
      });
    },
    initialPageParam: null as LookSummary | null,
    getNextPageParam: (last) => (last.length === page ? last[last.length - 1] : null),
    placeholderData: keepPreviousData,
    enabled,
  });
export const useModels = () => useQuery({ queryKey: keys.models(), queryFn: () => get("/api/v1/models") });
export const useModel = (id: string) =>
  useQuery({ queryKey: keys.model(id), queryFn: () => get("/api/v1/models/{id}", { params: { path: { id } } }) });
/** What is probably wrong about a model and the looks on it. */
export const useModelFindings = (id: string) =>
  useQuery({
    queryKey: keys.modelFindings(id),
    queryFn: () => get("/api/v1/models/{id}/findings", { params: { path: { id } } }),
  });
/** The materials that a model came with, and the pictures that they may mean. */
export const useModelMaterials = (id: string) =>
  useQuery({
    queryKey: keys.modelMaterials(id),
    queryFn: () => get("/api/v1/models/{id}/materials", { params: { path: { id } } }),
  });
/** The models of a delivery, and those that could not be read. */
export const useDeliveredModels = (id: string, enabled: boolean) =>
  useQuery({
    queryKey: keys.deliveredModels(id),
    queryFn: () => get("/api/v1/deliveries/{id}/models", { params: { path: { id } } }),
    enabled,
  });
/** What the collections of a look say of its trims. */
export const useLookTrims = (look: string) =>
  useQuery({
    queryKey: keys.trims(look),
    queryFn: () => get("/api/v1/looks/{id}/trims", { params: { path: { id: look } } }),
  });
/** Changes when the studio trims of a look do; empty without any. */
export function useTrimStamp(look: string): string {
  const said = useLookTrims(look).data;
  return said && said.length > 0 ? JSON.stringify(said) : "";
}
/** What each approximated or lost line of a report costs, as ΔE. */
export const useLineFigures = (look: string, revision: number, dialect: string, under: string, enabled: boolean) =>
  useQuery({
    queryKey: keys.figures(look, revision, dialect, under),
    queryFn: () =>
      get("/api/v1/looks/{id}/figures", { params: { path: { id: look }, query: { dialect: dialect ?? "" } } }),
    enabled,
    staleTime: Infinity,
  });
export const useLook = (id: string) =>
  useQuery({ queryKey: keys.look(id), queryFn: () => get("/api/v1/looks/{id}", { params: { path: { id } } }) });
/**
 * What stood there before stays while the next one comes, but never one look's or dialect's under another's name.
 * Keys are [what, look, revision, dialect].
 */
const ofSameDialect =
  (id: string, dialect: string | null) =>
  <T>(before: T | undefined, query?: { queryKey: readonly unknown[] }) =>
    query?.queryKey[1] === id && query.queryKey[3] === dialect ? before : undefined;
export const useBoard = (id: string, revision: number | undefined, dialect: string | null) =>
  useQuery({
    queryKey: keys.board(id, revision, dialect),
    queryFn: () =>
      get("/api/v1/looks/{id}/board", { params: { path: { id }, query: { dialect: dialect ?? undefined } } }),
    enabled: revision !== undefined,
    placeholderData: ofSameDialect(id, dialect),
  });
export const useVersions = (id: string) =>
  useQuery({
    queryKey: keys.versions(id),
    queryFn: () => get("/api/v1/looks/{id}/versions", { params: { path: { id } } }),
  });
export const useHistory = (id: string, revision: number, enabled = true) =>
  useQuery({
    queryKey: keys.history(id, revision),
    queryFn: () => get("/api/v1/looks/{id}/history", { params: { path: { id } } }),
    enabled,
  });
export const useCollections = () =>
  useQuery({ queryKey: keys.collections(), queryFn: () => get("/api/v1/collections") });

export const useKeptChains = () => useQuery({ queryKey: keys.chains(), queryFn: () => get("/api/v1/chains") });
export const useNetwork = (id: string, revision: number, dialect: string | null) =>
  useQuery({
    queryKey: keys.network(id, revision, dialect),
    queryFn: () => get("/api/v1/looks/{id}/network", { params: { path: { id }, query: { dialect: dialect ?? "" } } }),
    enabled: dialect !== null,
  });
export const useNamingRules = () =>
  useQuery({ queryKey: keys.namingRules(), queryFn: () => get("/api/v1/naming/rules") });
export const useNamingWords = () =>
  useQuery({
    queryKey: keys.namingWords(),
    queryFn: () => get("/api/v1/naming/words"),
    staleTime: Infinity,
  });
export const useColour = () => useQuery({ queryKey: keys.colour(), queryFn: () => get("/api/v1/colour") });
export const useWrittenReadings = () =>
  useQuery({ queryKey: keys.colour("written"), queryFn: () => get("/api/v1/colour/written") });
export const useServerFolders = () =>
  useQuery({ queryKey: keys.serverFolders(), queryFn: () => get("/api/v1/server-folders") });
export const useFolderEntries = (folder: string | null, path: string) =>
  useQuery({
    queryKey: keys.folderEntries(folder, path),
    queryFn: () =>
      get("/api/v1/server-folders/{id}/entries", { params: { path: { id: folder ?? "" }, query: { path } } }),
    enabled: folder !== null,
  });
export const useMissingFiles = (look: string, revision: number) =>
  useQuery({
    queryKey: keys.missingFiles(look, revision),
    queryFn: () => get("/api/v1/looks/{id}/relink", { params: { path: { id: look } } }),
  });

export interface DeliveryProgress {
  id: string;
  state: string;
  stage: string;
  done: number;
  total: number;
  /** When this stage was first heard of, and how much was done then; for the rate. */
  since?: { at: number; done: number };
}

/** Things done a second since the stage began; null until there is something to go by. */
export function rateOf(p: DeliveryProgress | undefined): number | null {
  if (!p?.since) return null;
  const seconds = (Date.now() - p.since.at) / 1000;
  return seconds > 0.7 && p.done > p.since.done ? (p.done - p.since.done) / seconds : null;
}

/** The one connection to the server's hub. */
const hub = new HubConnectionBuilder()
  .withUrl("/progress")
  .withAutomaticReconnect()
  .configureLogging(LogLevel.Error)
  .build();

/** Calls back on a message; gives what ends it. */
export function onHub<T>(message: string, told: (value: T) => void): () => void {
  hub.on(message, told);
  return () => hub.off(message, told);
}

/** Says which look is open, now and after every reconnection; gives what says that it is closed. */
export function sayToHub(method: string, look: string): () => void {
  let closed = false;
  const say = () => {
    if (!closed && hub.state === HubConnectionState.Connected) void hub.invoke(method, look).catch(() => undefined);
  };
  say();
  hub.onreconnected(say);
  const waiting = window.setInterval(() => {
    if (hub.state !== HubConnectionState.Connected) return;
    say();
    window.clearInterval(waiting);
  }, 400);
  return () => {
    closed = true;
    window.clearInterval(waiting);
    if (hub.state === HubConnectionState.Connected)
      void hub.invoke(method, "00000000-0000-0000-0000-000000000000").catch(() => undefined);
  };
}

/** Listens to the server and refreshes what changed; gives the newest progress of each delivery. */
export function useProgress() {
  const client = useQueryClient();
  const [progress, setProgress] = useState<Record<string, DeliveryProgress>>({});
  useEffect(() => {
    const stopDeliveries = onHub("delivery", (p: DeliveryProgress) => {
      setProgress((all) => {
        const before = all[p.id];
        const since = before?.stage === p.stage && before.since ? before.since : { at: Date.now(), done: p.done };
        return { ...all, [p.id]: { ...p, since } };
      });
      if (p.state !== "analysing") {
        void refresh(client, keys.deliveries());
        void refresh(client, keys.delivery(p.id));
      }
    });
    const stopLooks = onHub("look", (l: { id: string; revision: number }) => {
      const known = client.getQueryState<LookInfo>(keys.look(l.id));
      // A first answer still on its way may be older than what was changed.
      if (known && (!known.data || known.data.revision < l.revision)) void refresh(client, keys.look(l.id));
    });
    // What holds for all looks of a collection changed.
    const stopStudio = onHub("collection", () => {
      for (const queryKey of [keys.trims(), keys.board()]) void client.invalidateQueries({ queryKey });
    });
    const stopModels = onHub("model", (m: { id: string }) => {
      void refresh(client, keys.model(m.id));
      void refresh(client, keys.modelMaterials(m.id));
      void refresh(client, keys.modelFindings(m.id));
      void refresh(client, keys.models());
    });
    const started = hub.start().catch(() => undefined);
    return () => {
      stopDeliveries();
      stopLooks();
      stopStudio();
      stopModels();
      void started.then(() => hub.stop());
    };
  }, [client]);
  return progress;
}
