import type { Knex } from "knex";
import { z } from "zod";
import { resultsOf } from "../../../core/methods/methodWords";
import { measurands } from "../../../core/quantity/measurand";
import type { HouseRules } from "../../../core/rules/houseRules";
import { noPlan, type VisitPlan } from "../../../core/samples/visitEvents";
import { listMethods } from "../runs/methods.server";
import { allBottleTypes } from "../samples/bottleTypes.server";

const planFormSchema = z.object({
  measurands: z.array(z.enum(measurands)),
  methods: z.array(z.string().max(60)).max(40, { error: "Forty tests are what one visit holds." }),
  bottles: z.array(z.string().max(60)).max(40, { error: "Forty bottles are what one visit holds." }),
  also: z.array(z.enum(["air", "look", "clarity", "well"])),
});

/** The house's rules of today as a visit keeps them. */
export const planRules = ({ sampling }: HouseRules): Pick<VisitPlan, "depth_cm" | "air_s"> => ({
  depth_cm: sampling.depth_cm,
  air_s: sampling.air_min * 60,
});

/** Reads what is to be done at a site from its form. Errors: a sentence. */
export async function planFromForm(
  db: Knex,
  form: FormData,
  rules: HouseRules,
): Promise<{ plan: VisitPlan } | { message: string }> {
  const list = (name: string) => form.getAll(name).map(String).filter(Boolean);
  const parsed = planFormSchema.safeParse({
    measurands: list("measurands"),
    methods: list("methods"),
    bottles: list("bottles"),
    also: list("also"),
  });
  if (!parsed.success) return { message: parsed.error.issues[0]?.message ?? "" };
  const { also, measurands: wanted } = parsed.data;
  const known = new Map((await listMethods(db)).map(({ method }) => [method.id, method]));
  // What keeps least is tested first.
  const methods = parsed.data.methods
    .flatMap((id) => known.get(id) ?? [])
    .sort((a, b) => a.sample.keeps_min - b.sample.keeps_min)
    .map((method) => ({
      id: method.id,
      name: method.name,
      parameters: resultsOf(method).map((r) => r.parameter),
    }));
  // What was offered when the form was opened is meant, also when it was taken out of use since.
  const types = await allBottleTypes(db);
  const bottles = parsed.data.bottles.flatMap((id) => types.find(({ type }) => type.id === id)?.type ?? []);
  if (wanted.length + methods.length + bottles.length + also.length === 0)
    return { message: "Choose at least one thing to do there." };
  const { purge_volumes, stable_rounds } = rules.sampling;
  return {
    plan: {
      ...noPlan,
      ...planRules(rules),
      air: also.includes("air"),
      look: also.includes("look"),
      clarity: also.includes("clarity"),
      measurands: wanted,
      methods,
      bottles,
      well: also.includes("well") ? { volumes: purge_volumes, rounds: stable_rounds } : null,
    },
  };
}
