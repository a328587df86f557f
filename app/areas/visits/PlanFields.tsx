import { Checkbox } from "antd";
import { type Measurand, measurandFacts, measurands } from "../../../core/quantity/measurand";
import type { VisitPlan } from "../../../core/samples/visitEvents";
import { ManyField } from "../../ui/ManyField";

const inPlace: readonly Measurand[] = measurands.filter((m) => m !== "absorbance" && m !== "volume");

const alsoWords = {
  air: "Air temperature",
  look: "Look and smell",
  well: "Purge a well",
  clarity: "Clarity",
} as const;

/** What is to be done at a site, to be ticked. */
export function PlanFields({
  methods,
  bottles,
  plan,
}: {
  methods: readonly { id: string; name: string }[];
  bottles: readonly { id: string; name: string }[];
  plan: VisitPlan | null;
}) {
  const also = {
    air: plan?.air ?? true,
    look: plan?.look ?? true,
    well: plan ? plan.well !== null : false,
    clarity: plan?.clarity ?? false,
  };
  return (
    <>
      <fieldset className="visit-choices">
        <legend>At the site</legend>
        {(Object.keys(alsoWords) as (keyof typeof alsoWords)[]).map((key) => (
          <Checkbox key={key} name="also" value={key} defaultChecked={also[key]}>
            {alsoWords[key]}
          </Checkbox>
        ))}
      </fieldset>
      <fieldset className="visit-choices">
        <legend>Read in place</legend>
        {inPlace.map((m) => (
          <Checkbox
            key={m}
            name="measurands"
            value={m}
            defaultChecked={plan ? plan.measurands.includes(m) : ["ph", "temperature"].includes(m)}
          >
            {measurandFacts[m].name}
          </Checkbox>
        ))}
      </fieldset>
      <fieldset className="visit-choices">
        <legend>Bottles</legend>
        {bottles.map((type) => (
          <Checkbox
            key={type.id}
            name="bottles"
            value={type.id}
            defaultChecked={plan?.bottles.some((b) => b.id === type.id) ?? false}
          >
            {type.name}
          </Checkbox>
        ))}
      </fieldset>
      <ManyField
        name="methods"
        label="Tests, there or from its bottles"
        options={methods.map((m) => ({ value: m.id, label: m.name }))}
        initial={plan?.methods.map((m) => m.id) ?? []}
      />
    </>
  );
}
