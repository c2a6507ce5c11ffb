/**
 * Talks to the server: one place for the token, problem documents and revisions. Paths, bodies and answers are those of the
 * document of its API.
 */
import createClient, { type MaybeOptionalInit } from "openapi-fetch";
import type {
  HttpMethod,
  MediaType,
  PathsWithMethod,
  RequiredKeysOf,
  ResponseObjectMap,
  SuccessResponse,
} from "openapi-typescript-helpers";
import type { paths } from "./schema";

export class Problem extends Error {
  constructor(
    readonly status: number,
    readonly code: string,
    sentence: string,
  ) {
    super(sentence);
  }
}

/** Nothing came back at all; it may do so the next time. */
export class Away extends Error {
  constructor() {
    super("The server does not answer.");
  }
}

/**
 * As fetch, loaded anew for each call, so that a test can put another in its place; what a browser says of a lost connection is no
 * sentence.
 */
async function reach(...asked: Parameters<typeof fetch>): Promise<Response> {
  try {
    return await fetch(...asked);
  } catch (error) {
    throw error instanceof TypeError ? new Away() : error;
  }
}

let token = "";

export function setToken(value: string) {
  token = value;
}

async function problemOf(response: Response): Promise<Problem> {
  try {
    const body = (await response.json()) as { title?: string; detail?: string; code?: string };
    return new Problem(response.status, body.code ?? "unknown", body.title ?? body.detail ?? response.statusText);
  } catch {
    return new Problem(response.status, "unknown", `The server answered ${response.status}.`);
  }
}

export async function request(
  method: string,
  path: string,
  body?: unknown,
  options: { revision?: number; signal?: AbortSignal } = {},
): Promise<Response> {
  const headers: Record<string, string> = { "X-Kiln-Token": token };
  // A form says by itself where its parts end.
  const isForm = body instanceof FormData;
  if (body !== undefined && !isForm)
    headers["Content-Type"] = body instanceof Blob ? "application/octet-stream" : "application/json";
  if (options.revision !== undefined) headers["If-Match"] = `"${options.revision}"`;
  const response = await reach(`/api/v1${path}`, {
    method,
    headers,
    body: body === undefined || body instanceof Blob || isForm ? body : JSON.stringify(body),
    signal: options.signal,
  });
  if (!response.ok) throw await problemOf(response);
  return response;
}

const client = createClient<paths>({ fetch: (request) => reach(request) });
client.use({
  onRequest: ({ request }) => {
    request.headers.set("X-Kiln-Token", token);
    return request;
  },
  onResponse: async ({ response }) => {
    if (!response.ok) throw await problemOf(response);
  },
});

type InitParam<Init> =
  RequiredKeysOf<Init> extends never ? [(Init & Record<string, unknown>)?] : [Init & Record<string, unknown>];

/** What the server answers to a call. */
type Answer<Path extends keyof paths, Method extends HttpMethod> =
  ResponseObjectMap<paths[Path][Method & keyof paths[Path]]> extends infer Responses extends Record<
    string | number,
    unknown
  >
    ? SuccessResponse<Responses, MediaType>
    : never;

/** A call that gives the answer itself, and throws a Problem where there is none. */
function answering<Method extends HttpMethod>(
  call: (path: never, init: never) => Promise<{ data?: unknown; response: Response }>,
) {
  return async <Path extends PathsWithMethod<paths, Method>, Init extends MaybeOptionalInit<paths[Path], Method>>(
    path: Path,
    ...[init]: InitParam<Init>
  ): Promise<Answer<Path, Method>> => {
    const { data } = await call(path as never, init as never);
    return data as Answer<Path, Method>;
  };
}

export const get = answering<"get">(client.GET);
export const post = answering<"post">(client.POST);
export const put = answering<"put">(client.PUT);
export const patch = answering<"patch">(client.PATCH);
export const del = answering<"delete">(client.DELETE);

/** The revision that a person saw: the server refuses what is about an older one. */
export const ifMatch = (revision: number) => ({ headers: { "If-Match": `"${revision}"` } });

/** Sends a file or a form, whose parts the document of the server does not describe one by one. */
export async function sendFile<T>(path: string, body: Blob | FormData, revision?: number): Promise<T> {
  return (await (await request("POST", path, body, { revision })).json()) as T;
}

/** How much of a file the server has. */
interface Arrived {
  bytes: number;
  complete: boolean;
}

const tries = 6;

/** Sends one file with progress; after a broken connection it goes on where the server stopped hearing. */
export async function upload(
  path: string,
  file: Blob,
  onProgress: (sent: number) => void,
  signal: AbortSignal,
): Promise<void> {
  let from = 0;
  for (let attempt = 1; ; attempt++) {
    try {
      await piece(`${path}?from=${from}&of=${file.size}`, file.slice(from), (sent) => onProgress(from + sent), signal);
      return;
    } catch (error) {
      if (!(error instanceof Problem) || error.status !== 0 || attempt >= tries) throw error;
      await new Promise((later) => setTimeout(later, 400 * 2 ** attempt));
      const arrived = await request("GET", path)
        .then((r) => r.json() as Promise<Arrived>)
        .catch(() => ({ bytes: from, complete: false }));
      if (arrived.complete) return;
      from = Math.min(arrived.bytes, file.size);
    }
  }
}

function piece(path: string, body: Blob, onProgress: (sent: number) => void, signal: AbortSignal): Promise<void> {
  return new Promise((resolve, reject) => {
    const xhr = new XMLHttpRequest();
    xhr.open("PUT", `/api/v1${path}`);
    xhr.setRequestHeader("X-Kiln-Token", token);
    xhr.upload.onprogress = (e) => onProgress(e.loaded);
    xhr.onload = () => {
      if (xhr.status === 202) return reject(new Problem(0, "connection", "Only a part of the file arrived."));
      if (xhr.status < 300) return resolve();
      let sentence = `The server answered ${xhr.status}.`;
      try {
        sentence = (JSON.parse(xhr.responseText) as { title: string }).title;
      } catch {
        // No problem document; the status has to do.
      }
      reject(new Problem(xhr.status, "upload", sentence));
    };
    xhr.onerror = () => reject(new Problem(0, "connection", "The connection broke while the file was being sent."));
    xhr.onabort = () => reject(new DOMException("aborted", "AbortError"));
    signal.addEventListener("abort", () => xhr.abort());
    xhr.send(body);
  });
}
