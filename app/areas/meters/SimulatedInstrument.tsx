import { Checkbox, Segmented, Select } from "antd";
import { Form, useFetcher } from "react-router";
import type { FaultKind } from "../../../core/calibration/diagnosis/faultKinds";
import type { Measurand } from "../../../core/quantity/measurand";
import { type Fault, faultFacts, faultsOf, usualFault } from "../../../core/simulation/fault";
import { memorySize } from "../../../core/simulation/memory";
import type { Place } from "../../server/devices/handOutside.server";

/** This instrument is a stand-in; its faults and what is around its probe can be changed to see what Brintel makes of it. */
export default function SimulatedInstrument({
  meterId,
  device,
}: {
  meterId: string;
  device: {
    measurands: Measurand[];
    faults: Fault[];
    speed: number;
    medium: string;
    follows: boolean;
    places: Place[];
    stored: number;
    every_min: number | null;
  };
}) {
  const fetcher = useFetcher();
  const change = (body: Record<string, string | number | boolean | Fault[]>) =>
    fetcher.submit(body, { method: "post", action: `/devices/${meterId}`, encType: "application/json" });
  const toggle = (kind: FaultKind, on: boolean) =>
    change({
      faults: on ? [...device.faults, usualFault(kind)] : device.faults.filter((f) => f.kind !== kind),
    });
  return (
    <div className="simulated">
      <p className="quiet small">
        The signal comes from simulated sensors that ship with Brintel. The probe is in:{" "}
        <b>{device.medium}</b>.
      </p>
      <h3>Outside</h3>
      <Checkbox checked={device.follows} onChange={(e) => change({ follows: e.target.checked })}>
        The probe goes where I tick
      </Checkbox>
      <Select
        aria-label="Put the probe into"
        size="large"
        style={{ width: "100%", marginTop: 8 }}
        placeholder="Put the probe into …"
        value={null}
        options={device.places}
        onChange={(put: string | null) => put && change({ put })}
      />
      <h3>Its own memory</h3>
      <div className="stack close">
        <p className="quiet small">
          <b className="m">{device.stored}</b> of {memorySize} moments. It shows and keeps values by the
          settings of the works, and knows nothing of the calibrations here.
        </p>
        <div className="cluster">
          <button
            type="button"
            className="calm"
            disabled={fetcher.state !== "idle"}
            onClick={() => change({ memory: "store" })}
          >
            Press its store key
          </button>
          <button
            type="button"
            className="calm"
            disabled={fetcher.state !== "idle" || device.stored === 0}
            onClick={() => change({ memory: "clear" })}
          >
            Empty it
          </button>
        </div>
        <Segmented
          aria-label="It logs by itself"
          value={device.every_min ?? 0}
          options={[
            { label: "no log", value: 0 },
            { label: "5 min", value: 5 },
            { label: "15 min", value: 15 },
            { label: "1 h", value: 60 },
          ]}
          onChange={(every_min: number) => change({ every_min })}
        />
        <Form method="post" action={`/imports/memory/${meterId}`}>
          <button type="submit" className="calm strong" disabled={device.stored === 0}>
            Read its memory out
          </button>
        </Form>
      </div>
      <h3>Faults</h3>
      {device.measurands.flatMap(faultsOf).map((kind) => (
        <div key={kind} style={{ minHeight: 40 }}>
          <Checkbox
            checked={device.faults.some((f) => f.kind === kind)}
            onChange={(e) => toggle(kind, e.target.checked)}
          >
            {faultFacts[kind].words}
          </Checkbox>
        </div>
      ))}
      <h3>Its time runs</h3>
      <Segmented
        aria-label="Speed of the simulated instrument"
        value={device.speed}
        options={[
          { label: "as real", value: 1 },
          { label: "5 ×", value: 5 },
          { label: "20 ×", value: 20 },
        ]}
        onChange={(speed: number) => change({ speed })}
      />
    </div>
  );
}
