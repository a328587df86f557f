import { Form } from "react-router";
import { MeterCalled, MeterPlace } from "../../ui/MeterCalled";
import { useSending } from "../../ui/useSending";

/** What a meter is called and where it is used, to be set right; what it measures stays, since what was measured rests on it. */
export function MeterName({
  meter,
  errors,
}: {
  meter: { code: string; name: string; place: "bench" | "field" };
  errors: Record<string, string>;
}) {
  const busy = useSending();
  return (
    <details className="take-out" open={Object.keys(errors).length > 0 || undefined}>
      <summary>Its code, its name, where it is used</summary>
      <Form method="post" className="form sheet" key={`${meter.code} ${meter.name} ${meter.place}`}>
        <MeterCalled errors={errors} initial={meter} />
        <MeterPlace initial={meter.place} />
        <p className="quiet small">
          Certificates that were made keep what stood on it then. What it measures cannot be changed: take it
          out of use, and register it anew.
        </p>
        <div className="cluster">
          <button type="submit" name="do" value="name" className="calm strong" disabled={busy}>
            Keep it
          </button>
        </div>
      </Form>
    </details>
  );
}
