import { Checkbox, Segmented } from "antd";
import { useState } from "react";
import { type Measurand, measurandFacts } from "../../core/quantity/measurand";
import { ChoiceField } from "./ChoiceField";
import { DayField } from "./DayField";
import { MeterCalled, MeterPlace } from "./MeterCalled";
import { TextField } from "./TextField";

const probes: Measurand[] = ["ph", "conductivity", "oxygen", "redox", "temperature"];
const alone: Measurand[] = ["absorbance", "volume"];

/** The fields of a new instrument, shared by the register and the first steps. */
export function MeterFields({ errors, today }: { errors: Record<string, string>; today: string }) {
  const [kind, setKind] = useState<"probe" | Measurand>("probe");
  const [measured, setMeasured] = useState<Measurand[]>(["ph"]);
  const [display, setDisplay] = useState<"signal" | "value">("signal");
  const chosen = kind === "probe" ? measured : [kind];
  const has = (m: Measurand) => chosen.includes(m);
  return (
    <>
      <MeterCalled errors={errors} />
      <div className="field">
        <span className="label">What kind of instrument?</span>
        <Segmented
          aria-label="What kind of instrument?"
          size="large"
          value={kind}
          onChange={setKind}
          options={[
            { label: "Meter with probes", value: "probe" },
            { label: "Photometer", value: "absorbance" },
            { label: "Burette, pipette, dropper", value: "volume" },
          ]}
        />
      </div>
      {kind === "probe" && (
        <div className="field">
          <span className="label">What does it measure?</span>
          <div className="choices">
            {probes.map((m) => (
              <Checkbox
                key={m}
                checked={measured.includes(m)}
                onChange={(e) =>
                  setMeasured((list) => (e.target.checked ? [...list, m] : list.filter((x) => x !== m)))
                }
              >
                {measurandFacts[m].name}
              </Checkbox>
            ))}
          </div>
          {errors.channels && <div className="wrong">{errors.channels}</div>}
        </div>
      )}
      {[...probes, ...alone].filter(has).map((m) => (
        <input key={m} type="hidden" name="measurand" value={m} />
      ))}
      {kind === "probe" ? (
        <div className="field">
          <span className="label">What does it show?</span>
          <input type="hidden" name="display" value={display} />
          <Segmented
            aria-label="What does it show?"
            size="large"
            value={display}
            onChange={setDisplay}
            options={[
              {
                label: has("ph") && measured.length === 1 ? "mV as well as pH" : "Raw signals as well",
                value: "signal",
              },
              {
                label: has("ph") && measured.length === 1 ? "Only pH" : "Only finished values",
                value: "value",
              },
            ]}
          />
          <div className="hint">
            {display === "signal"
              ? "Brintel fits the line itself and can tell a tired probe from a bad standard."
              : "You type what it shows before and after you adjust it; the verdict rests on that."}
          </div>
        </div>
      ) : (
        <input type="hidden" name="display" value="signal" />
      )}
      {has("conductivity") && display === "value" && (
        <div className="two">
          <ChoiceField
            name="compensation"
            label="Its conductivity display is"
            initial="25-linear"
            options={[
              { value: "raw", label: "raw, at the sample's temperature" },
              { value: "25-linear", label: "compensated to 25 °C" },
              { value: "25-natural", label: "compensated to 25 °C for natural waters" },
              { value: "20-linear", label: "compensated to 20 °C" },
            ]}
          />
          <TextField name="coefficient" label="Its coefficient, %/°C" initial="1.91" mono />
        </div>
      )}
      {has("redox") && (
        <ChoiceField
          name="reference"
          label="Reference electrode of the redox probe"
          initial="agcl-sat"
          options={[
            { value: "agcl-sat", label: "Ag/AgCl, saturated KCl" },
            { value: "agcl-3m", label: "Ag/AgCl, 3 mol/L KCl" },
            { value: "she", label: "Standard hydrogen electrode" },
          ]}
        />
      )}
      {has("volume") && (
        <TextField
          name="nominal_ml"
          label="One delivery, mL"
          hint="A drop is about 0.05."
          initial="10"
          mono
        />
      )}
      <MeterPlace />
      {display === "signal" && (
        <div className="field">
          <Checkbox name="has_cable">
            It is a simulated instrument for practice: its signals come by themselves, and its readings are no
            record
          </Checkbox>
          {errors.has_cable && <div className="wrong">{errors.has_cable}</div>}
        </div>
      )}
      <DayField
        name="installed_on"
        label={kind === "probe" ? "Probe in use since" : "In use since"}
        initial={today}
        max={today}
        wrong={errors.installed_on}
      />
    </>
  );
}
