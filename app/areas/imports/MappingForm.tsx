import { useId } from "react";
import { Form } from "react-router";
import { type ImportField, importFields } from "../../../core/results/importLines";
import { type LotField, lotFields } from "../../../core/stock/lotLines";
import type { LotsFile, ResultsFile } from "../../server/exchange/importFile.server";
import { ChoiceField } from "../../ui/ChoiceField";

const resultWords: Record<ImportField, string> = {
  site: "Site",
  measured_at: "Date",
  time: "Clock time, if apart",
  parameter: "What was measured",
  value: "Value",
  unit: "Unit",
  sample: "Sample",
  instrument: "Instrument",
  observer: "Who measured",
};

const lotWords: Record<LotField, string> = {
  kind: "Kind",
  material: "Which buffer or standard",
  code: "Lot on the bottle",
  name: "Name on the bottle",
  value: "Certified value",
  percent_per_c: "Its coefficient, %/°C",
  uncertainty: "Uncertainty on the certificate",
  serves: "Used as",
  strength: "Strength",
  strength_u: "Its standard uncertainty",
  strength_unit: "Strength in",
  strength_of: "Strength of",
  formula: "Formula",
  purity_percent: "Purity, %",
  received_on: "Received",
  opened_on: "Opened",
  expires_on: "Expires",
  shelf_life_open_days: "Keeps, once opened, days",
  size: "What is in it",
  unit: "Counted in",
  portion: "One use takes",
  place: "Where it stands",
  hazard: "Hazards",
};

/** Which column of a file is what. Remembered for the next file with the same head. */
export function MappingForm({
  file,
  head,
  sites,
  busy,
  open,
}: {
  file: ResultsFile | LotsFile;
  head: readonly string[];
  sites: readonly string[];
  busy: boolean;
  /** Whether it is asked for, because nothing can be read without it. */
  open: boolean;
}) {
  const kindForm = useId();
  const none = { value: "", label: "–" };
  const columns = [none, ...head.map((value) => ({ value, label: value }))];
  const chosen: Partial<Record<string, string>> = file.mapping.columns;
  const fields: readonly [string, string][] =
    file.kind === "lots"
      ? lotFields.map((f) => [f, lotWords[f]])
      : importFields.map((f) => [f, resultWords[f]]);
  return (
    <details className="sheet mapping" open={open ? true : undefined}>
      <summary>Which column is what</summary>
      <Form method="post" className="stack close" preventScrollReset>
        <input type="hidden" name="do" value="map" />
        <div className="mapping-fields">
          {fields.map(([field, label]) => (
            <ChoiceField
              key={field}
              name={`column-${field}`}
              label={label}
              initial={chosen[field] ?? ""}
              options={columns}
            />
          ))}
          {file.kind === "results" && (
            <ChoiceField
              name="site"
              label="Or the site of all lines"
              initial={file.mapping.site}
              options={[none, ...sites.map((value) => ({ value, label: value }))]}
            />
          )}
          <ChoiceField
            name="dates"
            label="Dates are written"
            initial={file.mapping.dates}
            options={[
              { value: "year-first", label: "year first: 2026-04-12" },
              { value: "day-first", label: "day first: 12.04.2026" },
              { value: "month-first", label: "month first: 04/12/2026" },
            ]}
          />
        </div>
        <p className="quiet small">
          {file.kind === "lots"
            ? "Each line is read like the form of a new lot. Several uses or hazards stand in one cell with semicolons between them; what a kit's leaflet says is filled in on the lot's own page."
            : "Without a column for what was measured, each column that is named after a quantity gives a result: pH, EC (µS/cm), Nitrate as NO3-N."}
        </p>
        <div className="actions">
          <button type="submit" className="calm strong" disabled={busy}>
            Read it so
          </button>
          <button
            type="submit"
            form={kindForm}
            name="do"
            value={file.kind === "lots" ? "results" : "lots"}
            className="calm"
            disabled={busy}
          >
            {file.kind === "lots" ? "These are results, not lots" : "These are lots, not results"}
          </button>
        </div>
      </Form>
      <Form method="post" id={kindForm} preventScrollReset />
    </details>
  );
}
