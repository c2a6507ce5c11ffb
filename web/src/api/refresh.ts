import type { QueryClient, QueryKey } from "@tanstack/react-query";

/**
 * Asks anew for what the server said has changed. A first answer that is still on its way may be older than that, and is not waited for:
 * it would stand as if it were new.
 */
export async function refresh(client: QueryClient, queryKey: QueryKey) {
  await client.cancelQueries({ queryKey });
  await client.invalidateQueries({ queryKey });
}
