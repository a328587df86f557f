import { type ReactNode, useState } from "react";
import { type BufferId, phBuffers } from "../../core/reference/phBuffers";
import { certifiedTable } from "../../core/stock/certificates";
import { hazardNames, hazardWords } from "../../core/stock/hazards";
import { isStandard, type Lot } from "../../core/stock/lot";
import { type StandardKind, type StandardLot, standardFacts, standardKinds } from "../../core/stock/standard";
import { type SupplyKind, supplyFacts } from "../../core/stock/supply";
import { asWritten } from "./asWritten";
import { ChoiceField } from "./ChoiceField";
import { DayField } from "./DayField";
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

/**
 * The fields of a lot, shared by the stock and the first steps; `supply` gives those of what is no standard. A lot that is there already
 * stands in them as it was written.
 */
export function LotFields({
  errors,
  today,
  lot,
  kinds = lot ? [lot.kind] : standardKinds,
  first = kinds[0] ?? "ph-buffer",
  supply,
}: {
  errors: Record<string, string>;
  today: string;
  lot?: Lot;
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
          <Material
            key={kind}
            kind={kind}
            lot={lot && isStandard(lot) ? lot : undefined}
            wrong={errors.material}
          />
        ) : (
          <TextField
            key={kind}
            name="name"
            label="Name on the bottle"
            {...(standard ? { hint: "May stay empty." } : {})}
            {...(lot ? { initial: ownName(lot) } : {})}
            wrong={errors.name}
          />
        )}
        <TextField
          name="code"
          label="Lot on the bottle"
          {...(lot ? { initial: lot.code } : {})}
          wrong={errors.code}
          mono
        />
      </div>
      {standard ? (
        <StandardFields
          key={standard}
          kind={standard}
          lot={lot && isStandard(lot) ? lot : undefined}
          errors={errors}
        />
      ) : (
        supply?.(kind as SupplyKind)
      )}
      <BottleFields kind={kind} today={today} lot={lot} errors={errors} />
      {!lot && (
        <>
          <TextField name="place" label="Where it stands" hint="May stay empty." wrong={errors.place} />
          <ManyField
            name="hazard"
            label="Hazards on its label"
            options={hazardNames.map((value) => ({ value, label: hazardWords[value] }))}
          />
        </>
      )}
    </>
  );
}

/** The days of a bottle, how long it keeps, and how much there is. */
export function BottleFields({
  kind,
  today,
  lot,
  errors,
}: {
  kind: LotKind;
  today: string;
  lot: Lot | undefined;
  errors: Record<string, string>;
}) {
  const standard = kind in standardFacts ? (kind as StandardKind) : null;
  const keeps = lot ? lot.shelf_life_open_days : standard && starts[standard].keeps;
  return (
    <>
      <div className="two">
        <DayField
          name="received_on"
          label="Received"
          initial={lot?.received_on ?? today}
          wrong={errors.received_on}
        />
        <DayField
          name="expires_on"
          label="Expires"
          {...(lot ? { initial: lot.expires_on } : {})}
          wrong={errors.expires_on}
        />
      </div>
      <div className="two">
        <DayField
          name="opened_on"
          label="Opened"
          hint="Leave empty while it is closed."
          initial={lot?.opened_on ?? ""}
          wrong={errors.opened_on}
        />
        <TextField
          key={kind}
          name="shelf_life_open_days"
          label="Keeps, once opened, days"
          initial={keeps === null ? "" : String(keeps)}
          {...(standard ? {} : { hint: "Empty where nobody says." })}
          wrong={errors.shelf_life_open_days}
          mono
        />
      </div>
      <Amounts
        key={`a-${kind}`}
        unit={lot?.unit ?? (standard ? "mL" : supplyFacts[kind as SupplyKind].unit)}
        lot={lot}
        errors={errors}
      />
    </>
  );
}

/** What is in it and what one use takes, so that it says when it runs out. */
function Amounts({
  unit,
  lot,
  errors,
}: {
  unit: string;
  lot: Pick<Lot, "size" | "portion"> | undefined;
  errors: Record<string, string>;
}) {
  return (
    <>
      <input type="hidden" name="unit" value={unit} />
      <div className="two">
        <TextField
          name="size"
          label={`What is in it, ${unit}`}
          hint="May stay empty."
          initial={asWritten(lot?.size)}
          wrong={errors.size}
          mono
        />
        <TextField
          name="portion"
          label={`One use takes, ${unit}`}
          hint="So that Brintel knows how much is left."
          initial={asWritten(lot?.portion)}
          wrong={errors.portion}
          mono
        />
      </div>
    </>
  );
}

/** The certified value and its uncertainty. */
function StandardFields({
  kind,
  lot,
  errors,
}: {
  kind: StandardKind;
  lot: StandardLot | undefined;
  errors: Record<string, string>;
}) {
  const facts = standardFacts[kind];
  const written = lot && asTyped(lot);
  const valued =
    kind === "conductivity-standard" || kind === "absorbance-standard" || kind === "concentration-standard";
  return (
    <>
      {valued && (
        <div className="two">
          <TextField
            name="value"
            label={`Certified value${kind === "conductivity-standard" ? " at 25 °C" : ""}, ${facts.unit}`}
            {...(written ? { initial: written.value } : {})}
            wrong={errors.table ?? errors["table.0.value"]}
            mono
          />
          {kind === "conductivity-standard" && (
            <TextField
              name="percent_per_c"
              label="Its coefficient, %/°C"
              hint="1.91 for potassium chloride, 2.1 for sodium chloride."
              initial={written?.percent ?? "1.91"}
              mono
            />
          )}
        </div>
      )}
      <TextField
        name="uncertainty"
        label={`Uncertainty on the certificate, ${facts.unit}`}
        initial={lot ? asWritten(lot.uncertainty) : starts[kind].uncertainty}
        wrong={errors.uncertainty}
        mono
      />
    </>
  );
}

/** The name somebody gave a lot; none where it was called by its value. */
function ownName(lot: Lot): string {
  if (!isStandard(lot)) return lot.name;
  const { value, percent } = asTyped(lot);
  const typed = { value_25: Number(value), percent_per_c: Number(percent) };
  return lot.name === certifiedTable(lot.kind, lot.material, lot.reference, typed).name ? "" : lot.name;
}

/** The value at 25 °C and the coefficient by which a standard's table was made. Check value: 1000 that is 1019.1 at 26 °C is 1.91 %/°C. */
function asTyped({ table }: StandardLot): { value: string; percent: string } {
  const at25 = table.find((row) => row.temperature_c === 25) ?? table[0];
  const other = table.find((row) => row.temperature_c !== at25?.temperature_c);
  if (!at25) return { value: "", percent: "1.91" };
  const per_c = other && (other.value / at25.value - 1) / (other.temperature_c - at25.temperature_c);
  return {
    value: asWritten(at25.value),
    percent: per_c === undefined ? "1.91" : asWritten(Number((per_c * 100).toPrecision(9))),
  };
}

function Material({
  kind,
  lot,
  wrong,
}: {
  kind: "ph-buffer" | "redox-standard";
  lot: StandardLot | undefined;
  wrong: string | undefined;
}) {
  const [buffer, setBuffer] = useState<BufferId>((lot?.material as BufferId | undefined) ?? "technical-7");
  if (kind === "redox-standard") {
    return (
      <>
        <input type="hidden" name="reference" value={lot?.reference ?? "agcl-sat"} />
        <ChoiceField
          name="material"
          label="Which redox standard"
          initial={lot?.material ?? "quinhydrone-4"}
          wrong={wrong}
          hint="Values against saturated Ag/AgCl; another electrode is reckoned over."
          options={Object.entries(redoxNames).map(([value, label]) => ({ value, label }))}
        />
      </>
    );
  }
  const ownValue = ({ temperature_c }: { temperature_c: number }) => {
    const own = lot?.material === buffer && lot.table.find((r) => r.temperature_c === temperature_c);
    return own ? asWritten(own.value) : null;
  };
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
              initial={ownValue(row) ?? row.value.toFixed(3)}
              mono
            />
          ))}
        </div>
      </details>
    </div>
  );
}
