import { useEffect, useRef } from "react";
import { useFetcher } from "react-router";

/**
 * Has a calculator's inputs calculated by the server, one after another: what is typed while an answer is on its way waits for it, and
 * of what waits only the newest is asked. An answer that were given up half-way would end as an error of the page.
 */
export function useCalculation<T>(id: string): { data: T | undefined; calculate(values: unknown): void } {
  const { data, state, submit } = useFetcher<T>();
  const asking = useRef(false);
  const waiting = useRef<{ values: unknown } | null>(null);
  const send = (values: unknown) => {
    asking.current = true;
    submit(JSON.stringify(values), {
      method: "post",
      action: `/api/calculators/${id}`,
      encType: "application/json",
    });
  };
  // biome-ignore lint/correctness/useExhaustiveDependencies: an answer has come when the state says so
  useEffect(() => {
    if (state !== "idle") return;
    asking.current = false;
    const next = waiting.current;
    waiting.current = null;
    if (next) send(next.values);
  }, [state]);
  return {
    data: data as T | undefined,
    calculate: (values) => {
      if (asking.current) waiting.current = { values };
      else send(values);
    },
  };
}
