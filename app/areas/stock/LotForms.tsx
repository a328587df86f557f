import { Input } from "antd";
import { Form } from "react-router";
import { hazardNames, hazardWords } from "../../../core/stock/hazards";
import type { Lot } from "../../../core/stock/lot";
import { wasteStreams, wasteWords } from "../../../core/stock/wasteStreams";
import { ChoiceField } from "../../ui/ChoiceField";
import { DayField } from "../../ui/DayField";
import { ManyField } from "../../ui/ManyField";
import { TextField } from "../../ui/TextField";

/** Why something was not done with a lot, and with which form. */
export type Answer = { message: string; of: "withdraw" | "take-back" | "discard" | "label" | "" };

/** It must not be used any more. */
export function Withdraw({ lot, answer, busy }: { lot: Lot; answer: Answer | undefined; busy: boolean }) {
  const wrong = answer?.of === "withdraw" ? answer.message : "";
  return (
    <Form method="post" className="form">
      <div className="field">
        <label htmlFor="reason">Withdraw this lot</label>
        <Input
          id="reason"
          name="reason"
          size="large"
          placeholder="Why it must not be used any more"
          status={wrong ? "error" : ""}
        />
        {wrong && (
          <div className="wrong" role="alert">
            {wrong}
          </div>
        )}
      </div>
      <DayField
        name="since"
        label="Bad since"
        initial={lot.opened_on ?? ""}
        hint="What was made and measured with it before that day stays as it is. What would change is shown before it does."
      />
      <button
        type="submit"
        name="do"
        value="withdraw"
        className="calm strong"
        disabled={busy}
        style={{ justifySelf: "start" }}
      >
        Withdraw it
      </button>
    </Form>
  );
}

/** It was another bottle that is bad. */
export function TakeBack({ answer, busy }: { answer: Answer | undefined; busy: boolean }) {
  const wrong = answer?.of === "take-back" ? answer.message : "";
  return (
    <details className="take-out" open={wrong ? true : undefined}>
      <summary>It was withdrawn by mistake</summary>
      <Form method="post" className="stack close">
        <TextField
          name="reason"
          id="take-back-reason"
          label="Why it may be used after all"
          hint="What was held because of it is judged anew, by everything that is known now."
          wrong={wrong}
        />
        <div className="cluster">
          <button type="submit" name="do" value="take-back" className="calm strong" disabled={busy}>
            Take the withdrawal back
          </button>
        </div>
      </Form>
    </details>
  );
}

/** What stands on the bottle changes: a pictogram that was overlooked, another cupboard. Its versions keep what stood there. */
export function OnItsLabel({
  lot,
  version,
  answer,
  busy,
}: {
  lot: Lot;
  version: number;
  answer: Answer | undefined;
  busy: boolean;
}) {
  const wrong = answer?.of === "label" ? answer.message : "";
  return (
    <details className="take-out" key={version} open={wrong ? true : undefined}>
      <summary>Where it stands and its hazards change</summary>
      <Form method="post" className="stack close">
        <TextField name="place" label="Where it stands" initial={lot.place} wrong={wrong} />
        <ManyField
          name="hazard"
          label="Hazards on its label"
          options={hazardNames.map((value) => ({ value, label: hazardWords[value] }))}
          initial={lot.hazards}
        />
        <div className="cluster">
          <button type="submit" name="do" value="label" className="calm strong" disabled={busy}>
            Keep it
          </button>
        </div>
      </Form>
    </details>
  );
}

/** Empty, or not wanted any more: what is left goes where it belongs. */
export function Discard({ answer, busy }: { answer: Answer | undefined; busy: boolean }) {
  const wrong = answer?.of === "discard" ? answer.message : "";
  return (
    <details className="take-out" open={wrong ? true : undefined}>
      <summary>It is empty, or is thrown away</summary>
      <Form method="post" className="stack close">
        <ChoiceField
          name="stream"
          label="What is left goes into"
          initial="none"
          options={wasteStreams.map((value) => ({ value, label: wasteWords[value] }))}
          wrong={wrong}
        />
        <TextField name="reason" label="Why, if it was not empty" />
        <p className="quiet small">
          Local rules for waste decide. It stays to be seen with what was done with it.
        </p>
        <div className="cluster">
          <button type="submit" name="do" value="discard" className="calm strong" disabled={busy}>
            Take it off the shelf
          </button>
        </div>
      </Form>
    </details>
  );
}

/** It stands on the shelf all the same. */
export const KeepIt = ({ busy }: { busy: boolean }) => (
  <Form method="post">
    <button type="submit" name="do" value="keep" className="calm strong" disabled={busy}>
      It was not thrown away
    </button>
  </Form>
);
