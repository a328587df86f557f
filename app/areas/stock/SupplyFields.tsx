import { useState } from "react";
import { type SupplyKind, strongKinds } from "../../../core/stock/supply";
import type { KitMethod } from "../../server/stock/kitMethods.server";
import { ChoiceField } from "../../ui/ChoiceField";
import { ManyField } from "../../ui/ManyField";
import { TextField } from "../../ui/TextField";
import { KitFields } from "./KitFields";

/** What is asked of a lot that is no standard, by its kind. */
export function SupplyFields({
  kind,
  methods,
  materials,
  errors,
}: {
  kind: SupplyKind;
  methods: readonly KitMethod[];
  materials: readonly string[];
  errors: Record<string, string>;
}) {
  return (
    <>
      {kind !== "chemical" && (
        <div className="stack close">
          <ManyField
            name="serves"
            label="It is used as"
            placeholder="The names of materials in methods"
            options={materials.map((value) => ({ value, label: value }))}
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
            wrong={errors["strength.value"]}
            mono
          />
          <TextField
            name="strength_u"
            label="Its standard uncertainty"
            wrong={errors["strength.uncertainty"]}
            mono
          />
          <ChoiceField
            name="strength_unit"
            label="in"
            initial="N"
            options={[
              { value: "N", label: "N" },
              { value: "mg/mL", label: "mg of CaCO3 a mL" },
              ...(kind === "titrant" ? [] : [{ value: "mg/L", label: "mg/L" }]),
            ]}
          />
          {kind !== "titrant" && (
            <TextField name="strength_of" label="of" hint="Like NO3-N." wrong={errors["strength.of"]} mono />
          )}
        </div>
      )}
      {kind === "chemical" && (
        <div className="two">
          <TextField name="formula" label="Formula" hint="Like Na2S2O3·5H2O." wrong={errors.formula} mono />
          <TextField
            name="purity_percent"
            label="Purity, %"
            hint="May stay empty."
            wrong={errors.purity_percent}
            mono
          />
        </div>
      )}
      {(kind === "kit" || kind === "strips" || kind === "reagent") && (
        <Leaflet methods={methods} errors={errors} asked={kind !== "reagent"} />
      )}
    </>
  );
}

/** Which method the leaflet is for, and then what it says. */
function Leaflet({
  methods,
  errors,
  asked,
}: {
  methods: readonly KitMethod[];
  errors: Record<string, string>;
  asked: boolean;
}) {
  const [id, setId] = useState("");
  const method = methods.find((m) => m.id === id);
  return (
    <>
      <ChoiceField
        name="kit_method"
        label="The method its leaflet is for"
        initial=""
        onChoose={setId}
        hint={
          asked
            ? "What ships with Brintel is invented: a result is sound only with what your kit's leaflet says."
            : "May stay empty."
        }
        wrong={errors["kit.method"]}
        options={[{ value: "", label: "none" }, ...methods.map((m) => ({ value: m.id, label: m.name }))]}
      />
      {method && <KitFields key={method.id} method={method} errors={errors} />}
    </>
  );
}
