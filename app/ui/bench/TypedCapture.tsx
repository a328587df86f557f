import { useState } from "react";
import { type Capture, captureSchema, type Measured } from "../../../core/bench/capture";
import { measured } from "../../../core/bench/measured";
import { type Channel, channelOf } from "../../../core/bench/meter";
import { readValue } from "../../../core/quantity/entry";

import type { MagnitudeSlip } from "../../../core/quantity/magnitude";
import { type Measurand, measurandFacts } from "../../../core/quantity/measurand";
import type { Unit } from "../../../core/quantity/unit";
import { useDrafts } from "../drafts";
import { NumberEntry } from "../NumberEntry";

/** Asks about a value that does not fit what is known; null when it fits or nothing is known. */
export type Guard = (measurand: Measurand, value: number, temperatureC: number) => MagnitudeSlip | null;

type Part = "signal" | "displayed" | "adjusted" | "reference";

interface Field {
  key: string;
  measurand: Measurand | null;
  part: Part | "temperature_c";
  label: string;
  unit: Unit;
  optional?: boolean;
  hint?: string;
}

/** What the display of a meter is called where it measures several things, or where its kind of value matters. */
function fieldsOf(channel: Channel, adjustable: boolean, several: boolean): Field[] {
  const { measurand } = channel;
  const facts = measurandFacts[measurand];
  const field = (part: Part, label: string, unit: Unit, more: Partial<Field> = {}): Field => ({
    key: `${measurand}.${part}`,
    measurand,
    part,
    label: several ? `${facts.name}: ${label.toLowerCase()}` : label,
    unit,
    ...more,
  });
  if (measurand === "volume")
    return [field("displayed", "Mass of one delivery", "g")].map((f) =>
      channel.display === "signal" ? { ...f, part: "signal", key: `${measurand}.signal` } : f,
    );
  const shown =
    channel.display === "signal" && facts.signal.unit !== facts.unit
      ? field("signal", "Signal", facts.signal.unit)
      : channel.display === "signal"
        ? field("signal", "Display", facts.signal.unit)
        : field("displayed", adjustable ? "Display before adjusting" : "Display", facts.unit);
  const conductivityHint =
    measurand === "conductivity" && channel.display === "value"
      ? channel.compensation === "raw"
        ? "Not compensated: as shown at the temperature of the solution."
        : `As shown, compensated to ${channel.compensation.slice(0, 2)} °C.`
      : undefined;
  return [
    conductivityHint ? { ...shown, hint: conductivityHint } : shown,
    ...(measurand === "temperature" && adjustable
      ? [field("reference", "Reference thermometer", "°C")]
      : channel.display === "value" && adjustable
        ? [
            field("adjusted", "Display after adjusting", facts.unit, {
              optional: true,
              hint: "Leave it empty if you did not adjust the meter.",
            }),
          ]
        : []),
  ];
}

const temperatureField: Field = {
  key: "temperature_c",
  measurand: null,
  part: "temperature_c",
  label: "Temperature",
  unit: "°C",
};

/** Values read off a meter and typed; what was typed survives a reload until it is kept. */
export default function TypedCapture({
  draftKey,
  meter,
  measurands,
  adjustable,
  guard,
  onCapture,
  onLive,
}: {
  draftKey: string;
  meter: { channels: Channel[] };
  measurands: readonly Measurand[];
  /** A standard the meter can be adjusted to; a check or a sample cannot. */
  adjustable: boolean;
  guard: Guard;
  onCapture(capture: Capture): void;
  /** Back to the live value, where there is one. */
  onLive?: () => void;
}) {
  const channels = measurands.flatMap((m) => channelOf(meter, m) ?? []);
  const hasTemperature = measurands.includes("temperature");
  const fields = [
    ...channels.flatMap((c) => fieldsOf(c, adjustable, channels.length > 1)),
    ...(hasTemperature ? [] : [temperatureField]),
  ];
  const drafts = useDrafts(draftKey);
  const [wrong, setWrong] = useState<Record<string, string>>({});
  /** A question about the size of an entry, and the text it was asked about; keeping the same text answers it. */
  const [asked, setAsked] = useState<Record<string, { text: string; slip: MagnitudeSlip }>>({});

  const submit = () => {
    const found: Record<string, string> = {};
    const numbers: Record<string, number> = {};
    for (const field of fields) {
      const text = drafts.get(field.key);
      if (text.trim() === "" && field.optional) continue;
      const single = readValue(text, field.unit);
      if ("message" in single) found[field.key] = single.message;
      else numbers[field.key] = single.value;
    }
    const values: Measured[] = channels.map(({ measurand }) => {
      const part = (name: Part) => numbers[`${measurand}.${name}`] ?? null;
      return measured(measurand, {
        signal: part("signal"),
        displayed: part("displayed"),
        adjusted: part("adjusted"),
        reference: part("reference"),
      });
    });
    const temperature = hasTemperature
      ? (numbers["temperature.signal"] ?? numbers["temperature.displayed"])
      : numbers.temperature_c;
    const parsed = captureSchema.safeParse({
      source: "typed",
      values,
      temperature_c: temperature,
      steady: null,
      seconds_in_solution: null,
    });
    for (const issue of parsed.error?.issues ?? []) {
      const [first, index, part] = issue.path;
      const key =
        first === "values" ? `${channels[Number(index)]?.measurand}.${String(part)}` : "temperature_c";
      if (fields.some((f) => f.key === key)) found[key] ??= issue.message;
    }
    setWrong(found);
    if (!parsed.success || Object.keys(found).length > 0) return;
    const questions = questionsAbout(parsed.data);
    setAsked(questions);
    if (Object.values(questions).length > 0) return;
    drafts.clear();
    onCapture(parsed.data);
  };

  /** New questions about sizes; one that was asked about the very same text has been answered by keeping it. */
  const questionsAbout = (capture: Capture): typeof asked => {
    const questions: typeof asked = {};
    for (const value of capture.values) {
      const part = value.signal === null ? "displayed" : "signal";
      const key = `${value.measurand}.${part}`;
      const slip = guard(value.measurand, value[part] ?? Number.NaN, capture.temperature_c);
      if (slip && asked[key]?.text !== drafts.get(key)) questions[key] = { text: drafts.get(key), slip };
    }
    return questions;
  };

  return (
    <form
      className="typed sheet"
      noValidate
      onSubmit={(event) => {
        event.preventDefault();
        submit();
      }}
    >
      <div className="typed-fields">
        {fields.map((field, i) => (
          <div key={field.key}>
            <NumberEntry
              name={field.key}
              label={field.label}
              unit={field.unit}
              text={drafts.get(field.key)}
              onText={(text) => drafts.set(field.key, text)}
              wrong={wrong[field.key]}
              autoFocus={i === 0}
              {...(field.hint ? { hint: field.hint } : {})}
            />
            {asked[field.key]?.text === drafts.get(field.key) && (
              <div className="question" role="alert">
                <p>{asked[field.key]?.slip.sentence}</p>
                <button
                  type="button"
                  className="calm strong"
                  onClick={() => {
                    const single = readValue(drafts.get(field.key), field.unit);
                    if ("value" in single) {
                      drafts.set(
                        field.key,
                        String(Number((single.value * (asked[field.key]?.slip.factor ?? 1)).toPrecision(12))),
                      );
                    }
                  }}
                >
                  Yes, put it right
                </button>
                <span className="quiet small">or keep it as it is once more</span>
              </div>
            )}
          </div>
        ))}
      </div>
      <div className="actions">
        <button type="submit" className="act">
          Keep it <kbd>enter</kbd>
        </button>
        {onLive && (
          <button type="button" className="calm" onClick={onLive}>
            Back to the live value
          </button>
        )}
      </div>
    </form>
  );
}
