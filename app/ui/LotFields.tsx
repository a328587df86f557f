import { type ReactNode, useState } from "react";
import { type BufferId, phBuffers } from "../../core/reference/phBuffers";
import { hazardNames, hazardWords } from "../../core/stock/hazards";
import { type StandardKind, standardFacts, standardKinds } from "../../core/stock/standard";
import { type SupplyKind, supplyFacts } from "../../core/stock/supply";
import { ChoiceField } from "./ChoiceField";
import { ManyField } from "./ManyField";
import { TextField } from "./TextField";

/** What differs between the kinds: their value, their uncertainty, how long they keep. */
const starts: Record<StandardKind, { uncertainty: string; keeps: string }> = {
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

type LotKind = StandardKind | SupplyKind;

const wordsOf = (kind: LotKind): string =>
  kind in standardFacts ? standardFacts[kind as StandardKind].words : supplyFacts[kind as SupplyKind].words;

/** The fields of a new lot, shared by the stock and the first steps; `supply` gives those of what is no standard. */
export function LotFields({
  errors,
  today,
  kinds = standardKinds,
  first = kinds[0] ?? "ph-buffer",
  supply,
}: {
  errors: Record<string, string>;
  today: string;
  kinds?: readonly LotKind[];
  first?: LotKind;
  supply?: (kind: SupplyKind) => ReactNode;
}) {
  const [kind, setKind] = useState<LotKind>(first);
  const standard = kind in standardFacts ? (kind as StandardKind) : null;
  return (
    <>
      {kinds.length > 1 ? (
        <ChoiceField
          name="kind"
          label="What it is"
          initial={kind}
          onChoose={setKind}
          wrong={errors.kind}
          options={kinds.map((value) => ({ value, label: wordsOf(value) }))}
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
            {...(standard ? { hint: "May stay empty." } : {})}
            wrong={errors.name}
          />
        )}
        <TextField name="code" label="Lot on the bottle" wrong={errors.code} mono />
      </div>
      {standard ? (
        <StandardFields key={standard} kind={standard} errors={errors} />
      ) : (
        supply?.(kind as SupplyKind)
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
          initial={standard ? starts[standard].keeps : ""}
          {...(standard ? {} : { hint: "Empty where nobody says." })}
          wrong={errors.shelf_life_open_days}
          mono
        />
      </div>
      <Amounts
        key={`a-${kind}`}
        unit={standard ? "mL" : supplyFacts[kind as SupplyKind].unit}
        errors={errors}
      />
      <TextField name="place" label="Where it stands" hint="May stay empty." wrong={errors.place} />
      <ManyField
        name="hazard"
        label="Hazards on its label"
        options={hazardNames.map((value) => ({ value, label: hazardWords[value] }))}
      />
    </>
  );
}

/** What is in it and what one use takes, so that it says when it runs out. */
function Amounts({ unit, errors }: { unit: string; errors: Record<string, string> }) {
  return (
    <>
      <input type="hidden" name="unit" value={unit} />
      <div className="two">
        <TextField
          name="size"
          label={`What is in it, ${unit}`}
          hint="May stay empty."
          wrong={errors.size}
          mono
        />
        <TextField
          name="portion"
          label={`One use takes, ${unit}`}
          hint="So that Brintel knows how much is left."
          wrong={errors.portion}
          mono
        />
      </div>
    </>
  );
}

/** The certified value and its uncertainty. */
function StandardFields({ kind, errors }: { kind: StandardKind; errors: Record<string, string> }) {
  const facts = standardFacts[kind];
  const valued =
    kind === "conductivity-standard" || kind === "absorbance-standard" || kind === "concentration-standard";
  return (
    <>
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
      <TextField
        name="uncertainty"
        label={`Uncertainty on the certificate, ${facts.unit}`}
        initial={starts[kind].uncertainty}
        wrong={errors.uncertainty}
        mono
      />
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
