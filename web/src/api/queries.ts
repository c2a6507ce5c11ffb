/** What the server knows, as queries. */
import { HubConnectionBuilder, LogLevel } from "@microsoft/signalr";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { get, setToken } from "./client";
import type { Board, CollectionInfo, Delivery, History, House, LookInfo, LookListing, Session, Version } from "./types";

export async function loadSession(): Promise<Session> {
  const session = await get<Session>("/session");
  setToken(session.token);
  return session;
}

export const useSession = () => useQuery({ queryKey: ["session"], queryFn: loadSession, staleTime: Infinity });
export const useHouse = () =>
  useQuery({ queryKey: ["house"], queryFn: () => get<House>("/house"), staleTime: Infinity });
export const useDeliveries = () =>
  useQuery({ queryKey: ["deliveries"], queryFn: () => get<Delivery[]>("/deliveries") });
export const useDelivery = (id: string) =>
  useQuery({ queryKey: ["delivery", id], queryFn: () => get<Delivery>(`/deliveries/${id}`) });
export const useLooks = (collection?: string) =>
  useQuery({
    queryKey: ["looks", collection ?? "all"],
    queryFn: () => get<LookListing[]>(`/looks${collection ? `?collection=${collection}` : ""}`),
  });
export const useLook = (id: string) =>
  useQuery({ queryKey: ["look", id], queryFn: () => get<LookInfo>(`/looks/${id}`) });
export const useBoard = (id: string, revision: number | undefined, dialect: string | null) =>
  useQuery({
    queryKey: ["board", id, revision, dialect],
    queryFn: () => get<Board>(`/looks/${id}/board${dialect ? `?dialect=${dialect}` : ""}`),
    enabled: revision !== undefined,
    placeholderData: (before) => before,
  });
export const useVersions = (id: string) =>
  useQuery({ queryKey: ["versions", id], queryFn: () => get<Version[]>(`/looks/${id}/versions`) });
export const useHistory = (id: string, revision: number) =>
  useQuery({ queryKey: ["history", id, revision], queryFn: () => get<History[]>(`/looks/${id}/history`) });
export const useCollections = () =>
  useQuery({ queryKey: ["collections"], queryFn: () => get<CollectionInfo[]>("/collections") });

export interface DeliveryProgress {
  id: string;
  state: string;
  stage: string;
  done: number;
  total: number;
}

/** Listens to the server and refreshes what changed; gives the newest progress of each delivery. */
export function useProgress() {
  const client = useQueryClient();
  const [progress, setProgress] = useState<Record<string, DeliveryProgress>>({});
  useEffect(() => {
    const hub = new HubConnectionBuilder()
      .withUrl("/progress")
      .withAutomaticReconnect()
      .configureLogging(LogLevel.Error)
      .build();
    hub.on("delivery", (p: DeliveryProgress) => {
      setProgress((all) => ({ ...all, [p.id]: p }));
      if (p.state !== "analysing") {
        void client.invalidateQueries({ queryKey: ["deliveries"] });
        void client.invalidateQueries({ queryKey: ["delivery", p.id] });
      }
    });
    hub.on("look", (l: { id: string; revision: number }) => {
      const known = client.getQueryData<LookInfo>(["look", l.id]);
      if (known && known.revision < l.revision) void client.invalidateQueries({ queryKey: ["look", l.id] });
    });
    const started = hub.start().catch(() => undefined);
    return () => void started.then(() => hub.stop());
  }, [client]);
  return progress;
}
