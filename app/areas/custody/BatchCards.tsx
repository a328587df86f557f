import { Checkbox, Input, Select } from "antd";
import { useId, useState } from "react";
import { readValue } from "../../../core/quantity/entry";
import { type CustodyState, holderOf, type SampleInBatch } from "../../../core/samples/custody";
import {
  coolerRange_c,
  type Seal,
  seals,
  sealWords,
  type WantedTest,
} from "../../../core/samples/custodyEvents";
import { labTests } from "../../../core/samples/labTests";
import { MomentField } from "../../ui/CollectedField";
import { correctedNow } from "../../ui/clock";
import { NumberEntry } from "../../ui/NumberEntry";
import type { AddCustody } from "./cardProps";

/** A temperature that may stay empty; a sentence where it cannot be. */
function readTemperature(text: string): { value: number | null } | { message: string } {
  if (text.trim() === "") return { value: null };
  const read = readValue(text, "°C");
  if ("message" in read) return read;
  const [low, high] = coolerRange_c;
  return read.value >= low && read.value <= high
    ? { value: read.value }
    : { message: `A cooler is between ${low} and ${high} °C. Look again.` };
}

function TemperatureEntry({
  text,
  onText,
  wrong,
}: {
  text: string;
  onText(text: string): void;
  wrong: string | undefined;
}) {
  return (
    <NumberEntry
      label="Temperature in the cooler"
      unit="°C"
      name="cooler"
      text={text}
      onText={onText}
      wrong={wrong}
      hint="At most 6 °C for most bottles, below 10 °C for microbiology."
    />
  );
}

/** Fresh ice before anything leaves, and how cold it is. */
export function CoolerCard({ add, first = false }: { add: AddCustody; first?: boolean }) {
  const [text, setText] = useState("");
  const [wrong, setWrong] = useState<string | undefined>();
  return (
    <section className="sheet stack close" aria-label="The cooler">
      <h2>{first ? "Fresh ice first" : "The cooler on the way"}</h2>
      <TemperatureEntry
        text={text}
        wrong={wrong}
        onText={(t) => {
          setText(t);
          setWrong(undefined);
        }}
      />
      <div className="cluster">
        <button
          type="button"
          className={first ? "act" : "calm strong"}
          onClick={() => {
            const read = readTemperature(text);
            if ("message" in read) return setWrong(read.message);
            add({ type: "cooled", fresh_ice: true, temperature_c: read.value });
            setText("");
          }}
        >
          Fresh ice is in
        </button>
      </div>
    </section>
  );
}

/** The samples change hands, or the laboratory has received them. */
export function HandOverCard({
  state,
  add,
  first,
}: {
  state: CustodyState;
  add: AddCustody;
  first: boolean;
}) {
  const id = useId();
  const [receipt, setReceipt] = useState(false);
  const [from, setFrom] = useState(holderOf(state));
  const [to, setTo] = useState("");
  const [text, setText] = useState("");
  const [seal, setSeal] = useState<Seal>("intact");
  const [at, setAt] = useState<string | null>(null);
  const [absent, setAbsent] = useState<string[]>([]);
  const [wrong, setWrong] = useState<{ to?: string; from?: string; cooler?: string }>({});
  const keep = () => {
    const read = readTemperature(text);
    const found = {
      ...(from.trim() ? {} : { from: "Say who gives them." }),
      ...(to.trim() ? {} : { to: "Say who takes them." }),
      ...("message" in read ? { cooler: read.message } : {}),
    };
    setWrong(found);
    if (Object.keys(found).length || "message" in read) return;
    const hop = {
      happened_at: at ?? new Date(correctedNow()).toISOString(),
      from: from.trim(),
      to: to.trim(),
      temperature_c: read.value,
      seal,
    };
    add(receipt ? { type: "received", ...hop, absent } : { type: "handed-over", ...hop });
  };
  return (
    <section className="sheet stack" aria-label="Hand over">
      <h2>They change hands</h2>
      <Checkbox checked={receipt} onChange={(e) => setReceipt(e.target.checked)}>
        This is the receipt by the laboratory
      </Checkbox>
      <div className="two">
        <div className="field">
          <label htmlFor={`${id}-from`}>From</label>
          <Input
            id={`${id}-from`}
            size="large"
            value={from}
            maxLength={80}
            onChange={(e) => setFrom(e.target.value)}
          />
          {wrong.from && <div className="wrong">{wrong.from}</div>}
        </div>
        <div className="field">
          <label htmlFor={`${id}-to`}>To</label>
          <Input
            id={`${id}-to`}
            size="large"
            value={to}
            maxLength={80}
            placeholder={receipt ? "Who received them there" : "Courier, colleague, laboratory"}
            onChange={(e) => setTo(e.target.value)}
          />
          {wrong.to && <div className="wrong">{wrong.to}</div>}
        </div>
      </div>
      <TemperatureEntry
        text={text}
        wrong={wrong.cooler}
        onText={(t) => {
          setText(t);
          setWrong(({ cooler: _, ...rest }) => rest);
        }}
      />
      <div className="two">
        <div className="field">
          <span className="label">Seal</span>
          <Select
            aria-label="Seal"
            size="large"
            value={seal}
            options={seals.map((s) => ({ value: s, label: sealWords[s] }))}
            onChange={setSeal}
          />
        </div>
        <MomentField
          name="happened"
          label="When, if it was not just now"
          hint="It may be written down later, from the paper."
          wrong={undefined}
          onMoment={setAt}
        />
      </div>
      {receipt && (
        <div className="field">
          <span className="label">Missing or broken</span>
          <Select
            aria-label="Missing or broken"
            mode="multiple"
            size="large"
            placeholder="None"
            value={absent}
            options={state.samples.map((s) => ({ value: s.id, label: s.code }))}
            onChange={setAbsent}
          />
        </div>
      )}
      <div className="cluster">
        <button type="button" className={first || receipt ? "act" : "calm strong"} onClick={keep}>
          {receipt ? "The laboratory has them" : "Handed over"}
        </button>
      </div>
    </section>
  );
}

/** One more test of a sample, chosen from what laboratories are asked for. */
export function AddTest({ sample, onTest }: { sample: SampleInBatch; onTest(test: WantedTest): void }) {
  const asked = new Set([...sample.tests, ...sample.added].map((t) => t.parameter));
  return (
    <Select
      aria-label={`One more test of ${sample.code}`}
      size="large"
      className="batch-tests"
      showSearch
      autoFocus
      defaultOpen
      optionFilterProp="label"
      placeholder="One more test"
      options={labTests
        .filter((t) => !asked.has(t.parameter))
        .map((t) => ({ value: t.parameter, label: t.analyte }))}
      onChange={(parameter: string) => {
        const test = labTests.find((t) => t.parameter === parameter);
        if (test) onTest({ parameter, name: test.analyte });
      }}
    />
  );
}
