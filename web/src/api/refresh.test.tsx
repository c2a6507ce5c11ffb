import { QueryClient, QueryClientProvider, useQuery } from "@tanstack/react-query";
import { render, screen, waitFor } from "@testing-library/react";
import { expect, it } from "vitest";
import { refresh } from "./refresh";

it("does not take a first answer for new that was on its way when something changed", async () => {
  const answers: ((text: string) => void)[] = [];
  function Shown() {
    const state = useQuery({
      queryKey: ["delivery", "1"],
      queryFn: () => new Promise<string>((answer) => answers.push(answer)),
    });
    return <p>{state.data ?? "nothing yet"}</p>;
  }
  const client = new QueryClient({ defaultOptions: { queries: { retry: false } } });
  render(
    <QueryClientProvider client={client}>
      <Shown />
    </QueryClientProvider>,
  );
  await waitFor(() => expect(answers).toHaveLength(1));
  void refresh(client, ["delivery", "1"]);
  await waitFor(() => expect(answers).toHaveLength(2));
  answers[0]("analysing");
  answers[1]("ready");
  expect(await screen.findByText("ready")).toBeTruthy();
});
