import { useState } from "react";
import { type BufferId, phBuffers } from "../../core/reference/phBuffers";
import { type LotKind, lotKindFacts, lotKinds } from "../../core/stock/lot";
import { ChoiceField } from "./ChoiceField";
import { TextField } from "./TextField";

/** What differs between the kinds: their value, their uncertainty, how long they keep. */
const starts: Record<LotKind, { uncertainty: string; keeps: string }> = {
  "ph-buffer": { uncertainty: "0.01", keeps: "90" },
  "conductivity-standard": { uncertainty: "7", keeps: "60" },
  "zero-oxygen": { uncertainty: "0.1", keeps: "1" },
  "redox-standard": { uncertainty: "5", keeps: "1" },
  "absorbance-standard": { uncertainty: "0.003", keeps: "365" },
  "concentration-standard": { uncertainty: "0.01", keeps: "90" },
};

const redoxNames = {
  "quinhydrone-4": "Quinhydrone in buffer 4",
  "quinhydrone-7": "Quinhydrone in buffer 7",
  "iron-cyanide": "Iron cyanides",
};

/** The fields of a new lot, shared by the stock and the first steps. */
export function LotFields({
  errors,
  today,
  kinds = lotKinds,
}: {
  errors: Record<string, string>;
  today: string;
  kinds?: readonly LotKind[];
}) {
  const [kind, setKind] = useState<LotKind>(kinds[0] ?? "ph-buffer");
  const facts = lotKindFacts[kind];
  const valued =
    kind === "conductivity-standard" || kind === "absorbance-standard" || kind === "concentration-standard";
  return (
    <>
      {kinds.length > 1 ? (
        <ChoiceField
          name="kind"
          label="What kind of standard"
          initial={kind}
          onChoose={setKind}
          wrong={errors.kind}
          options={kinds.map((value) => ({ value, label: lotKindFacts[value].words }))}
        />
      ) : (
        <input type="hidden" name="kind" value={kind} />
      )}
      <div className="two">
        {kind === "ph-buffer" || kind === "redox-standard" ? (
          <Material key={kind} kind={kind} wrong={errors.material} />
        ) : (
          <TextField
            key={kind}
            name="name"
            label="Name on the bottle"
            hint="May stay empty."
            wrong={errors.name}
          />
        )}
        <TextField name="code" label="Lot on the bottle" wrong={errors.code} mono />
      </div>
      {valued && (
        <div className="two">
          <TextField
            name="value"
            label={`Certified value${kind === "conductivity-standard" ? " at 25 °C" : ""}, ${facts.unit}`}
            wrong={errors.table ?? errors["table.0.value"]}
            mono
          />
          {kind === "conductivity-standard" && (
            <TextField
              name="percent_per_c"
              label="Its coefficient, %/°C"
              hint="1.91 for potassium chloride, 2.1 for sodium chloride."
              initial="1.91"
              mono
            />
          )}
        </div>
      )}
      <div className="two">
        <TextField
          name="received_on"
          label="Received"
          type="date"
          initial={today}
          wrong={errors.received_on}
        />
        <TextField name="expires_on" label="Expires" type="date" wrong={errors.expires_on} />
      </div>
      <div className="two">
        <TextField
          name="opened_on"
          label="Opened"
          type="date"
          hint="Leave empty while it is closed."
          wrong={errors.opened_on}
        />
        <TextField
          key={kind}
          name="shelf_life_open_days"
          label="Keeps, once opened, days"
          initial={starts[kind].keeps}
          wrong={errors.shelf_life_open_days}
          mono
        />
      </div>
      <TextField
        key={`u-${kind}`}
        name="uncertainty"
        label={`Uncertainty on the certificate, ${facts.unit}`}
        initial={starts[kind].uncertainty}
        wrong={errors.uncertainty}
        mono
      />
      <div className="two">
        <TextField name="bottle_ml" label="Bottle, mL" hint="May stay empty." wrong={errors.bottle_ml} mono />
        <TextField
          name="portion_ml"
          label="One portion, mL"
          hint="So that Brintel knows how many are left."
          wrong={errors.portion_ml}
          mono
        />
      </div>
    </>
  );
}

function Material({ kind, wrong }: { kind: "ph-buffer" | "redox-standard"; wrong: string | undefined }) {
  const [buffer, setBuffer] = useState<BufferId>("technical-7");
  if (kind === "redox-standard") {
    return (
      <>
        <input type="hidden" name="reference" value="agcl-sat" />
        <ChoiceField
          name="material"
          label="Which redox standard"
          initial="quinhydrone-4"
          wrong={wrong}
          hint="Values against saturated Ag/AgCl; another electrode is reckoned over."
          options={Object.entries(redoxNames).map(([value, label]) => ({ value, label }))}
        />
      </>
    );
  }
  return (
    <div>
      <ChoiceField
        name="material"
        label="Which buffer"
        initial={buffer}
        onChoose={setBuffer}
        wrong={wrong}
        options={Object.values(phBuffers).map((b) => ({ value: b.id, label: `${b.name} (${b.family})` }))}
      />
      <details key={buffer}>
        <summary className="calm">The certificate has its own table of pH by temperature</summary>
        <div className="certificate">
          {phBuffers[buffer].table.map((row) => (
            <TextField
              key={row.temperature_c}
              name={`value_${row.temperature_c}`}
              label={`${row.temperature_c} °C`}
              initial={row.value.toFixed(3)}
              mono
            />
          ))}
        </div>
      </details>
    </div>
  );
}
