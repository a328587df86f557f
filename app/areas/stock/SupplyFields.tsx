import { useState } from "react";
import type { Kit } from "../../../core/stock/kit";
import { type SupplyKind, type SupplyLot, strongKinds } from "../../../core/stock/supply";
import type { KitMethod } from "../../server/stock/kitMethods.server";
import { asWritten } from "../../ui/asWritten";
import { ChoiceField } from "../../ui/ChoiceField";
import { ManyField } from "../../ui/ManyField";
import { TextField } from "../../ui/TextField";
import { KitFields } from "./KitFields";

/** What is asked of a lot that is no standard, by its kind; as it was written, of one that is there already. */
export function SupplyFields({
  kind,
  lot,
  methods,
  materials,
  errors,
}: {
  kind: SupplyKind;
  lot?: SupplyLot | undefined;
  methods: readonly KitMethod[];
  materials: readonly string[];
  errors: Record<string, string>;
}) {
  const strength = lot?.strength;
  const names = [...new Set([...materials, ...(lot?.serves ?? [])])];
  return (
    <>
      {kind !== "chemical" && (
        <div className="stack close">
          <ManyField
            name="serves"
            label="It is used as"
            placeholder="The names of materials in methods"
            options={names.map((value) => ({ value, label: value }))}
            initial={lot?.serves ?? []}
          />
          {errors.serves && <p className="wrong">{errors.serves}</p>}
        </div>
      )}
      {strongKinds.includes(kind) && (
        <div className="two">
          <TextField
            name="strength"
            label="Strength"
            hint={kind === "titrant" ? "Of the certificate." : "Of a standard; may stay empty."}
            initial={asWritten(strength?.value)}
            wrong={errors["strength.value"]}
            mono
          />
          <TextField
            name="strength_u"
            label="Its standard uncertainty"
            initial={asWritten(strength?.uncertainty)}
            wrong={errors["strength.uncertainty"]}
            mono
          />
          <ChoiceField
            name="strength_unit"
            label="in"
            initial={strength?.unit ?? "N"}
            options={[
              { value: "N", label: "N" },
              { value: "mg/mL", label: "mg of CaCO3 a mL" },
              ...(kind === "titrant" ? [] : [{ value: "mg/L", label: "mg/L" }]),
            ]}
          />
          {kind !== "titrant" && (
            <TextField
              name="strength_of"
              label="of"
              hint="Like NO3-N."
              initial={strength?.of ?? ""}
              wrong={errors["strength.of"]}
              mono
            />
          )}
        </div>
      )}
      {kind === "chemical" && (
        <div className="two">
          <TextField
            name="formula"
            label="Formula"
            hint="Like Na2S2O3·5H2O."
            initial={lot?.formula ?? ""}
            wrong={errors.formula}
            mono
          />
          <TextField
            name="purity_percent"
            label="Purity, %"
            hint="May stay empty."
            initial={asWritten(lot?.purity_percent)}
            wrong={errors.purity_percent}
            mono
          />
        </div>
      )}
      {(kind === "kit" || kind === "strips" || kind === "reagent") && (
        <Leaflet methods={methods} kit={lot?.kit ?? null} errors={errors} asked={kind !== "reagent"} />
      )}
    </>
  );
}

/** Which method the leaflet is for, and then what it says. */
function Leaflet({
  methods,
  kit,
  errors,
  asked,
}: {
  methods: readonly KitMethod[];
  kit: Kit | null;
  errors: Record<string, string>;
  asked: boolean;
}) {
  const [id, setId] = useState(kit?.method ?? "");
  const method = methods.find((m) => m.id === id);
  return (
    <>
      <ChoiceField
        name="kit_method"
        label="The method its leaflet is for"
        initial={id}
        onChoose={setId}
        hint={
          asked
            ? "What ships with Brintel is invented: a result is sound only with what your kit's leaflet says."
            : "May stay empty."
        }
        wrong={errors["kit.method"]}
        options={[{ value: "", label: "none" }, ...methods.map((m) => ({ value: m.id, label: m.name }))]}
      />
      {method && (
        <KitFields
          key={method.id}
          method={method}
          kit={kit?.method === method.id ? kit : null}
          errors={errors}
        />
      )}
    </>
  );
}
