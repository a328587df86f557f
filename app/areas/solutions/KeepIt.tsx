import { useState } from "react";
import { Link, useFetcher } from "react-router";
import { TextField } from "../../ui/TextField";

/** What came of keeping a calculation. */
export interface KeepAnswer {
  errors: Record<string, string>;
  kept: { href: string; label: string } | null;
}

/** Keeps the calculation with the record it served; `id` makes a form that is sent twice keep it once. */
export function KeepIt({
  id,
  inputs,
  forWhat,
  disabled,
}: {
  id: string;
  inputs: Record<string, unknown>;
  forWhat: string;
  disabled: boolean;
}) {
  const fetcher = useFetcher<KeepAnswer>();
  const [open, setOpen] = useState(forWhat !== "");
  const errors = fetcher.data?.errors ?? {};
  const kept = fetcher.data?.kept;
  if (kept) {
    return (
      <p role="status" className="no-print">
        Kept. <Link to={kept.href}>{kept.label}</Link>
      </p>
    );
  }
  if (!open) {
    return (
      <div className="cluster no-print">
        <button type="button" className="calm strong" onClick={() => setOpen(true)} disabled={disabled}>
          Keep this calculation
        </button>
      </div>
    );
  }
  return (
    <fetcher.Form method="post" className="stack close no-print">
      <input type="hidden" name="id" value={id} />
      <input type="hidden" name="inputs" value={JSON.stringify(inputs)} />
      <div className="two">
        <TextField
          name="for"
          label="What it belongs to"
          initial={forWhat}
          hint="The code of a bottle, a sample or a meter; may stay empty."
          wrong={errors.for}
          mono
        />
        <TextField name="note" label="What it was for" wrong={errors.note} />
      </div>
      {errors.form && (
        <p className="wrong" role="alert">
          {errors.form}
        </p>
      )}
      <div className="cluster">
        <button type="submit" className="calm strong" disabled={disabled || fetcher.state !== "idle"}>
          Keep this calculation
        </button>
      </div>
    </fetcher.Form>
  );
}
