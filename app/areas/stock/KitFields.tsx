import { formatOwnDigits } from "../../../core/quantity/format";
import type { Kit } from "../../../core/stock/kit";
import type { KitMethod } from "../../server/stock/kitMethods.server";
import { asWritten } from "../../ui/asWritten";
import { ChoiceField } from "../../ui/ChoiceField";
import { LinesField } from "../../ui/LinesField";
import { TextField } from "../../ui/TextField";

const perUnit: Partial<Record<KitMethod["technique"], string>> = {
  drops: "One drop is",
  digits: "One digit is",
  syringe: "One unit of the scale is",
  photometer: "Factor on the display",
};

const within = (errors: Record<string, string>, path: string): string | undefined =>
  Object.entries(errors).find(([key]) => key === path || key.startsWith(`${path}.`))?.[1];

/** The line in which a scale is typed. Check value: steps 0 and 1 of "Low" are "Low: 0, 1". */
const scaleLine = ({ name, steps }: Kit["scales"][number]): string =>
  `${name ? `${name}: ` : ""}${steps.map(asWritten).join(", ")}`;

/** What the leaflet of a kit says, as far as its method asks for it; as it was written, of a kit that is there already. */
export function KitFields({
  method,
  kit = null,
  errors,
}: {
  method: KitMethod;
  kit?: Kit | null;
  errors: Record<string, string>;
}) {
  const { technique, unit } = method;
  const factor = perUnit[technique];
  return (
    <fieldset className="kit stack">
      <legend>What its leaflet says</legend>
      <div className="two">
        <TextField
          name="kit_source"
          label="Leaflet"
          hint="Its name and edition."
          initial={kit?.source ?? ""}
          wrong={errors["kit.source"]}
        />
        {method.given_as.length > 1 ? (
          <ChoiceField
            name="kit_given_as"
            label="Its numbers are given as"
            initial={kit?.given_as || (method.given_as[0] ?? "")}
            hint={`Brintel reports ${method.given_as[0]} and reckons over.`}
            options={method.given_as.map((value) => ({ value, label: value }))}
          />
        ) : (
          <span />
        )}
      </div>
      {method.scales.map((scale, i) => (
        <TextField
          key={scale.label}
          name="kit_scale"
          label={`The steps of the scale: ${scale.label}`}
          hint={`From pale to strong, like ${scale.example}.`}
          initial={kit?.scales[i] ? scaleLine(kit.scales[i]) : ""}
          wrong={within(errors, `kit.scales.${i}`) ?? (i === 0 ? errors["kit.scales"] : undefined)}
          mono
        />
      ))}
      {technique === "capillary" && (
        <LinesField
          name="kit_table"
          label="The table on the tube"
          hint={`Division and ${unit}, a line each.`}
          initial={kit?.table?.map((r) => `${asWritten(r.division)} ${asWritten(r.value)}`).join("\n") ?? ""}
          wrong={within(errors, "kit.table")}
          rows={5}
          mono
          placeholder={"1.0 28\n1.2 34"}
        />
      )}
      {factor && (
        <TextField
          name="kit_per_unit"
          label={`${factor}${technique === "photometer" ? "" : `, ${unit}`}`}
          {...(technique === "photometer" ? { hint: "Empty for 1." } : {})}
          initial={asWritten(kit?.per_unit)}
          wrong={errors["kit.per_unit"]}
          mono
        />
      )}
      {technique === "photometer-curve" && (
        <div className="two">
          <TextField
            name="kit_slope"
            label={`Slope of the curve, A a ${unit}`}
            initial={asWritten(kit?.curve?.slope)}
            wrong={errors["kit.curve.slope"]}
            mono
          />
          <TextField
            name="kit_intercept"
            label="Intercept, A"
            initial={asWritten(kit?.curve?.intercept)}
            wrong={errors["kit.curve.intercept"]}
            mono
          />
        </div>
      )}
      <div className="three">
        <TextField
          name="kit_low"
          label={`Range from, ${unit}`}
          hint="Empty: its scale says it."
          initial={asWritten(kit?.range?.low)}
          wrong={errors["kit.range.low"] ?? errors["kit.range"]}
          mono
        />
        <TextField
          name="kit_high"
          label={`to, ${unit}`}
          initial={asWritten(kit?.range?.high)}
          wrong={errors["kit.range.high"]}
          mono
        />
        <TextField
          name="kit_program"
          label="Program"
          hint="The number it is read by."
          initial={kit?.program ?? ""}
          wrong={errors["kit.program"]}
        />
      </div>
      {(method.waits.length > 0 || method.doses.length > 0) && (
        <details>
          <summary className="calm">Its waits and doses differ from the method's</summary>
          <div className="stack">
            {method.waits.map((w) => (
              <TextField
                key={w.id}
                name={`kit_wait_${w.id}`}
                label={w.label}
                hint={`The method waits ${w.seconds} s.`}
                initial={asWritten(kit?.waits_s[w.id])}
                wrong={errors[`kit.waits_s.${w.id}`]}
                mono
              />
            ))}
            {method.doses.map((d) => (
              <TextField
                key={d.id}
                name={`kit_dose_${d.id}`}
                label={d.label}
                hint={`The method takes ${formatOwnDigits(d.amount)} ${d.unit}.`}
                initial={asWritten(kit?.doses[d.id])}
                wrong={errors[`kit.doses.${d.id}`]}
                mono
              />
            ))}
          </div>
        </details>
      )}
    </fieldset>
  );
}
