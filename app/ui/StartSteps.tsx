import { Checkbox, Input, Segmented, Select } from "antd";
import { useState } from "react";
import type { ProposedCalibration, ProposedStation } from "../../core/calibration/standardChoice";
import { understandPressure } from "../../core/calibration/stationPressureGuard";
import { readValue } from "../../core/quantity/entry";
import { type Measurand, measurandFacts } from "../../core/quantity/measurand";
import { ordinalFirst } from "../../core/quantity/ordinals";
import type { StartShelfLot } from "../server/calibrations/startForm.server";
import { NumberEntry } from "./NumberEntry";
import { VerdictMark } from "./VerdictMark";

interface Step extends ProposedStation {
  key: number;
}

function stepLabel(measurand: Measurand, step: Step, steps: Step[], check: boolean): string {
  const nth = steps.filter((s) => s.role === step.role).indexOf(step);
  const thing = measurand === "ph" ? "buffer" : "standard";
  if (step.role === "zero") return "Zero solution";
  if (check || step.role === "check") {
    if (measurand === "ph") return "Check buffer, not adjusted";
    return check ? "Standard, not adjusted" : `${ordinalFirst(nth)} standard`;
  }
  return `${ordinalFirst(nth)} ${thing}`;
}

/** The steps of one measurand: which bottles, what is left out, and why these. */
export function MeasurandSteps({
  proposal,
  lots,
  check,
  several,
  on,
  onToggle,
  onPast,
}: {
  proposal: ProposedCalibration;
  lots: readonly StartShelfLot[];
  check: boolean;
  several: boolean;
  on: boolean;
  onToggle(on: boolean): void;
  /** Tells whether a bottle past its date is among the chosen. */
  onPast(past: boolean): void;
}) {
  const { measurand } = proposal;
  const [steps, setSteps] = useState<Step[]>(() => proposal.stations.map((s, key) => ({ ...s, key })));
  const byId = new Map(lots.map((lot) => [lot.id, lot]));
  const change = (key: number, lot_id: string | null) => {
    const next = steps.map((s) => (s.key === key ? { ...s, lot_id } : s));
    setSteps(next);
    onPast(next.some((s) => s.lot_id && byId.get(s.lot_id)?.state !== "good"));
  };
  const points = steps.filter((s) => s.role === "point" && s.kinds.length > 0);
  const mayAdd =
    !check && points.length > 0 && points.length < 5 && (measurand === "ph" || measurand === "conductivity");
  const add = () => {
    const model = points.at(-1);
    if (!model) return;
    const key = Math.max(...steps.map((s) => s.key)) + 1;
    const at = steps.indexOf(model) + 1;
    setSteps([...steps.slice(0, at), { ...model, key, lot_id: null }, ...steps.slice(at)]);
  };
  const name = measurandFacts[measurand].name;
  return (
    <fieldset className="measurand-steps">
      {several ? (
        <Checkbox checked={on} onChange={(e) => onToggle(e.target.checked)}>
          <b>{name}</b>
        </Checkbox>
      ) : (
        <legend className="hidden">{name}</legend>
      )}
      {several && <p className="quiet small">{proposal.sentence}</p>}
      {on &&
        steps.map((step) =>
          step.kinds.length === 0 ? (
            <input key={step.key} type="hidden" name="station" value={`${measurand}|${step.role}|`} />
          ) : (
            <LotChoice
              key={step.key}
              label={stepLabel(measurand, step, steps, check)}
              measurand={measurand}
              step={step}
              lots={lots}
              onChange={(id) => change(step.key, id)}
            />
          ),
        )}
      {on && mayAdd && (
        <button type="button" className="calm add-buffer" onClick={add}>
          {measurand === "ph"
            ? points.length === 2
              ? "Add a third buffer"
              : "Add a buffer"
            : "Add a standard"}
        </button>
      )}
    </fieldset>
  );
}

function LotChoice({
  label,
  measurand,
  step,
  lots,
  onChange,
}: {
  label: string;
  measurand: Measurand;
  step: Step;
  lots: readonly StartShelfLot[];
  onChange(id: string | null): void;
}) {
  const options = lots
    .filter((lot) => (step.kinds as string[]).includes(lot.kind))
    .map((lot) => ({ value: lot.id, label: lot.label, disabled: lot.state === "withdrawn" }));
  const lot = lots.find((l) => l.id === step.lot_id);
  const sent = step.lot_id ?? (step.optional ? "leave-out" : "");
  return (
    <div className="field">
      <span className="label">{label}</span>
      <input type="hidden" name="station" value={`${measurand}|${step.role}|${sent}`} />
      <Select
        aria-label={label}
        size="large"
        style={{ width: "100%" }}
        placeholder={step.optional ? "Leave it out" : "Choose a bottle"}
        value={step.lot_id}
        options={options}
        allowClear={step.optional}
        onChange={(next: string | null | undefined) => onChange(next ?? null)}
      />
      <div className="hint">
        {lot && (
          <>
            <VerdictMark verdict={lot.state === "good" ? "sound" : "qualified"} size={13} /> {lot.sentence}
          </>
        )}
      </div>
    </div>
  );
}

/** Air pressure, altitude and salinity; what was typed is understood at once, and the wrong kind of pressure is caught. */
export function AirFields({ altitude, errors }: { altitude: number | null; errors: Record<string, string> }) {
  const [pressure, setPressure] = useState("");
  const [kind, setKind] = useState<"station" | "sea-level">("station");
  const [height, setHeight] = useState(altitude === null ? "" : String(altitude));
  const [salinity, setSalinity] = useState("");
  const typed = readValue(pressure, "hPa");
  const metres = readValue(height, "m");
  const understood =
    "value" in typed && "value" in metres ? understandPressure(typed.value, kind, metres.value) : null;
  return (
    <div className="air-fields">
      <div className="two">
        <NumberEntry
          name="pressure"
          label="Air pressure"
          unit="hPa"
          text={pressure}
          onText={setPressure}
          wrong={understood ? (understood.slip ? understood.sentence : undefined) : errors.pressure}
        />
        <div className="field">
          <span className="label">Which pressure is it?</span>
          <input type="hidden" name="pressure_kind" value={kind} />
          <Segmented
            aria-label="Which pressure is it?"
            size="large"
            value={kind}
            onChange={setKind}
            options={[
              { label: "Read here", value: "station" },
              { label: "Weather report", value: "sea-level" },
            ]}
          />
          <div className="hint">A weather report is reduced to sea level.</div>
        </div>
      </div>
      {understood && !understood.slip && <p className="understood">{understood.sentence}</p>}
      {understood?.slip === "sea-level-as-station" && (
        <button type="button" className="calm strong" onClick={() => setKind("sea-level")}>
          Yes, it is from a weather report
        </button>
      )}
      <div className="two">
        <NumberEntry
          name="altitude"
          label="Altitude"
          unit="m"
          text={height}
          onText={setHeight}
          wrong={errors.altitude}
        />
        <div className="field">
          <label htmlFor="salinity">Salinity, if it was measured</label>
          <Input
            id="salinity"
            name="salinity"
            size="large"
            className="m"
            value={salinity}
            onChange={(e) => setSalinity(e.target.value)}
          />
          {errors.salinity ? (
            <div className="wrong">{errors.salinity}</div>
          ) : (
            <div className="hint">Empty: fresh water is assumed, and the record says so.</div>
          )}
        </div>
      </div>
    </div>
  );
}
