import type { Knex } from "knex";
import { givenAs, kitNeed } from "../../../core/methods/kitted";
import type { Method, Technique } from "../../../core/methods/method";
import { formatOwnDigits } from "../../../core/quantity/format";
import { listMethods } from "../runs/methods.server";

/** A method as the form of a kit asks about it. */
export interface KitMethod {
  id: string;
  name: string;
  technique: Technique;
  unit: string;
  /** What its numbers may be given as, the method's own first. */
  given_as: string[];
  /** The scales that are asked for, each with the method's own as an example. */
  scales: { label: string; example: string }[];
  waits: { id: string; label: string; seconds: number }[];
  doses: { id: string; label: string; amount: number; unit: string }[];
}

const stepsOf = (steps: readonly { value: number }[]) =>
  steps.map((s) => formatOwnDigits(s.value)).join(", ");

function scalesOf({ measure }: Method): KitMethod["scales"] {
  if (measure.technique === "comparator")
    return measure.scales.map((s) => ({ label: s.name, example: stepsOf(s.steps) }));
  return measure.technique === "strip"
    ? measure.pads.map((p) => ({ label: `${p.analyte}, ${p.position}`, example: stepsOf(p.steps) }))
    : [];
}

/** Every method that a kit may be for, by name. */
export async function kitMethods(db: Knex): Promise<KitMethod[]> {
  return (await listMethods(db)).flatMap(({ method }) =>
    kitNeed(method) === null
      ? []
      : [
          {
            id: method.id,
            name: method.name,
            technique: method.measure.technique,
            unit: method.result.unit,
            given_as: givenAs(method.result),
            scales: scalesOf(method),
            waits: method.steps.flatMap((s) =>
              s.kind === "wait"
                ? [
                    {
                      id: s.id,
                      label: `Wait after “${textOf(method, s.from)}”, s`,
                      seconds: s.seconds,
                    },
                  ]
                : [],
            ),
            doses: method.steps.flatMap((s) =>
              s.kind === "add" ? [{ id: s.id, label: s.text, amount: s.amount, unit: s.unit }] : [],
            ),
          },
        ],
  );
}

const textOf = (method: Method, id: string): string => {
  const step = method.steps.find((s) => s.id === id);
  return step && step.kind !== "wait" ? step.text.split(/[.:,]/)[0]?.trim() || id : id;
};

/** The names of everything that methods take from bottles, each once. */
export async function materialNames(db: Knex): Promise<string[]> {
  const names = (await listMethods(db)).flatMap(({ method }) =>
    method.materials.filter((m) => m.lot).map((m) => m.name),
  );
  return [...new Set(names)].sort((a, b) => a.localeCompare(b));
}
