import { Checkbox, Segmented } from "antd";
import { useFetcher } from "react-router";
import type { PhFault } from "../../../core/simulation/phMeter";

const faultWords: Record<PhFault, string> = {
  "aged-glass": "Aged glass: low slope, slow",
  "clogged-junction": "Clogged junction: offset",
  "cracked-glass": "Cracked glass: no slope",
  "old-buffer-10": "Buffer 10 stood open",
  "swapped-buffers": "First two buffers swapped",
};

/** This instrument is a stand-in; its faults can be switched on to see what Brintel makes of them. */
export function SimulatedInstrument({
  meterId,
  device,
}: {
  meterId: string;
  device: { faults: PhFault[]; speed: number; medium: string };
}) {
  const fetcher = useFetcher();
  const change = (body: { faults?: PhFault[]; speed?: number }) =>
    fetcher.submit(body, { method: "post", action: `/devices/${meterId}`, encType: "application/json" });
  const toggle = (fault: PhFault, on: boolean) =>
    change({ faults: on ? [...device.faults, fault] : device.faults.filter((f) => f !== fault) });
  return (
    <div className="simulated">
      <p className="quiet small">
        The signal comes from a simulated electrode that ships with Brintel. Its probe is in:{" "}
        <b>{device.medium}</b>.
      </p>
      <h3>Faults</h3>
      {(Object.keys(faultWords) as PhFault[]).map((fault) => (
        <div key={fault} style={{ minHeight: 40 }}>
          <Checkbox checked={device.faults.includes(fault)} onChange={(e) => toggle(fault, e.target.checked)}>
            {faultWords[fault]}
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
