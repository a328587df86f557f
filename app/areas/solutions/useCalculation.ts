import { useEffect, useState } from "react";
import { useFetcher } from "react-router";
import { oneAfterAnother } from "./oneAfterAnother";

/**
 * Has the inputs of a calculator, which stays the same, calculated by the server one after another: an answer that is given up
 * half-way ends as an error of the page.
 */
export function useCalculation<T>(id: string) {
  const { data, state, submit } = useFetcher<T>();
  const [turns] = useState(() =>
    oneAfterAnother((values: unknown) => {
      submit(JSON.stringify(values), {
        method: "post",
        action: `/api/calculators/${id}`,
        encType: "application/json",
      });
    }),
  );
  useEffect(() => {
    if (state === "idle") turns.answered();
  }, [state, turns]);
  return { data: data as T | undefined, calculate: turns.ask };
}
