import { Form } from "react-router";
import { type ImportField, type ImportMapping, importFields } from "../../../core/results/importLines";
import { ChoiceField } from "../../ui/ChoiceField";

const words: Record<ImportField, string> = {
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

/** Which column of a file is what. Remembered for the next file with the same head. */
export function MappingForm({
  head,
  mapping,
  sites,
  busy,
}: {
  head: readonly string[];
  mapping: ImportMapping;
  sites: readonly string[];
  busy: boolean;
}) {
  const none = { value: "", label: "–" };
  const columns = [none, ...head.map((value) => ({ value, label: value }))];
  return (
    <section className="sheet" aria-label="Which column is what">
      <h2>Which column is what</h2>
      <Form method="post" className="stack close" preventScrollReset>
        <input type="hidden" name="do" value="map" />
        <div className="mapping-fields">
          {importFields.map((field) => (
            <ChoiceField
              key={field}
              name={`column-${field}`}
              label={words[field]}
              initial={mapping.columns[field] ?? ""}
              options={columns}
            />
          ))}
          <ChoiceField
            name="site"
            label="Or the site of all lines"
            initial={mapping.site}
            options={[none, ...sites.map((value) => ({ value, label: value }))]}
          />
          <ChoiceField
            name="dates"
            label="Dates are written"
            initial={mapping.dates}
            options={[
              { value: "year-first", label: "year first: 2026-04-12" },
              { value: "day-first", label: "day first: 12.04.2026" },
              { value: "month-first", label: "month first: 04/12/2026" },
            ]}
          />
        </div>
        <p className="quiet small">
          Without a column for what was measured, each column that is named after a quantity gives a result:
          pH, EC (µS/cm), Nitrate as NO3-N.
        </p>
        <div className="actions">
          <button type="submit" className="calm strong" disabled={busy}>
            Read it so
          </button>
        </div>
      </Form>
    </section>
  );
}
