import { calculate, findCalculator } from "../../../core/calculators/registry";
import type { Route } from "./+types/calculator";

/** Runs one calculator on the JSON inputs of the request. Bad input answers 422, an unknown calculator 404. */
export async function action({ request, params }: Route.ActionArgs) {
  const id = params.calculatorId;
  const body = await request.text();
  let inputs: unknown;
  try {
    inputs = JSON.parse(body || "{}");
  } catch {
    return Response.json(
      { id, errors: [{ path: "", message: "The request is not JSON." }] },
      { status: 422 },
    );
  }
  const answer = calculate(id, inputs);
  if (!findCalculator(id)) return Response.json(answer, { status: 404 });
  return Response.json(answer, { status: "errors" in answer ? 422 : 200 });
}

export function loader() {
  return Response.json({ errors: [{ path: "", message: "Send the inputs with POST." }] }, { status: 405 });
}
