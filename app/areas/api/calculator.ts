import { type Answer, calculate, findCalculator } from "../../../core/calculators/registry";
import { calculateApart } from "../../server/plans/planRunner.server";
import type { Route } from "./+types/calculator";

const refuse = (id: string, message: string, status: number) =>
  Response.json({ id, errors: [{ path: "", message }] }, { status });

/** Runs one calculator on the JSON inputs of the request. Bad input answers 422, an unknown calculator 404. */
export async function action({ request, params }: Route.ActionArgs) {
  const id = params.calculatorId;
  const body = await request.text();
  let inputs: unknown;
  try {
    inputs = JSON.parse(body || "{}");
  } catch {
    return refuse(id, "The request is not JSON.", 422);
  }
  const calculator = findCalculator(id);
  if (!calculator) return Response.json(calculate(id, inputs), { status: 404 });
  const answer = calculator.searches
    ? ((await calculateApart(id, inputs)) as Answer | null)
    : calculate(id, inputs);
  if (!answer) return refuse(id, "Too many of these run at once. Ask again in a moment.", 429);
  return Response.json(answer, { status: "errors" in answer ? 422 : 200 });
}

export const loader = ({ params }: Route.LoaderArgs) =>
  refuse(params.calculatorId, "Send the inputs with POST.", 405);
