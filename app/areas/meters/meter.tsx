import "../../shared/bench/bench.css";
import { lazy } from "react";
import { Link, useLoaderData } from "react-router";
import { slopeForecast } from "../../../core/calibration/validity";
import { formatNumber } from "../../../core/quantity/format";
import { calibrationsOf } from "../../server/calibrations.server";
import { dbContext } from "../../server/contexts.server";
import { findDevice } from "../../server/devices.server";
import { findMeter } from "../../server/meters.server";
import { rulesInForce } from "../../server/rules.server";
import { InBrowser } from "../../shared/charts/InBrowser";
import { DueMark } from "../../shared/DueMark";
import { EvidencePanel, Rows } from "../../shared/EvidencePanel";
import { showTime } from "../../shared/time";
import { VerdictMark } from "../../shared/VerdictMark";
import type { Route } from "./+types/meter";
import { SimulatedInstrument } from "./SimulatedInstrument";

const SlopeChart = lazy(() => import("../../shared/charts/SlopeChart"));

export const meta: Route.MetaFunction = ({ loaderData }) => [
  { title: `${loaderData?.meter.code ?? "Meter"} · Brintel` },
];

export async function loader({ params, context }: Route.LoaderArgs) {
  const db = context.get(dbContext);
  const meter = await findMeter(db, params.meterId);
  if (!meter) throw new Response("No such meter", { status: 404 });
  const { rules } = await rulesInForce(db);
  const calibrations = await calibrationsOf(db, meter.id, 60);
  const device = await findDevice(db, meter.id);
  // A swapped pair of buffers says nothing about the probe's age.
  const slopes = calibrations
    .filter((c) => c.slope_percent > 50)
    .map((c) => ({ at: c.finished_at, slope_percent: c.slope_percent }))
    .reverse();
  return {
    meter,
    rules,
    now: new Date().toISOString(),
    calibrations,
    slopes,
    forecast: slopeForecast(slopes.slice(-24), rules.ph.slope_sound_percent[0]),
    device: device
      ? { faults: device.state.truth.faults, speed: device.speed, medium: device.state.medium.label }
      : null,
  };
}

export default function MeterPage() {
  const { meter, rules, now, calibrations, slopes, forecast, device } = useLoaderData<typeof loader>();
  const last = calibrations[0];
  const ready = last !== undefined && last.verdict !== "failed" && last.valid_until >= now;
  const [low, high] = rules.ph.slope_sound_percent;
  return (
    <>
      <main>
        <h1>
          {meter.code} · {meter.name}
        </h1>
        <p className="sub">
          {meter.display === "signal" ? "Shows mV and pH" : "Shows only pH"}, used{" "}
          {meter.place === "bench" ? "at the bench" : "in the field"}. Probe in use since{" "}
          {showTime(`${meter.probe_installed_on}T12:00:00Z`, rules.zone, "day")}.
        </p>
        <div className="headline">
          {last && (ready || last.verdict === "failed") ? (
            <VerdictMark verdict={last.verdict} size={30} />
          ) : (
            <DueMark size={30} />
          )}
          {!last
            ? "Never calibrated."
            : last.verdict === "failed"
              ? "The last calibration failed. Do not use this meter."
              : ready
                ? `Ready: ${last.verdict}, until ${showTime(last.valid_until, rules.zone)} today.`
                : "Not calibrated today."}
        </div>
        <div className="actions" style={{ marginTop: 0 }}>
          <Link to={`/meters/${meter.id}/${ready ? "read" : "calibrate"}`} className="act">
            {ready ? "Take a reading" : `Calibrate ${meter.code}`}
          </Link>
          <Link to={`/meters/${meter.id}/${ready ? "calibrate" : "read"}`} className="calm">
            {ready ? "Calibrate again" : "Take a reading all the same"}
          </Link>
        </div>
        {slopes.length > 1 && (
          <section className="sheet" style={{ marginTop: 20 }}>
            <h2>{meter.display === "signal" ? "Slope" : "Apparent slope, as found"}</h2>
            <div style={{ height: 170, position: "relative" }}>
              <InBrowser>
                <SlopeChart slopes={slopes} low={low} high={high} zone={rules.zone} />
              </InBrowser>
            </div>
            <p className="quiet" style={{ margin: "8px 0 0" }}>
              {forecast
                ? `Leaves ${low} % around ${showTime(forecast, rules.zone, "day")} if it goes on like this. Order a probe before.`
                : `No fall that would leave ${low} % within a year.`}
            </p>
          </section>
        )}
        {calibrations.length > 0 && (
          <section style={{ marginTop: 22 }}>
            <h2>Calibrations</h2>
            <div className="scroll-x">
              <table className="figures">
                <thead>
                  <tr>
                    <th>When</th>
                    <th>Verdict</th>
                    <th className="r">Slope</th>
                    <th className="r">Offset</th>
                    <th>Between buffers</th>
                    <th>By</th>
                  </tr>
                </thead>
                <tbody>
                  {calibrations.slice(0, 15).map((c) => (
                    <tr key={c.id}>
                      <td className="nowrap">
                        <Link to={`/calibrations/${c.id}`}>
                          {showTime(c.finished_at, rules.zone, "both")}
                        </Link>
                      </td>
                      <td>
                        <VerdictMark verdict={c.verdict} word />
                      </td>
                      <td className="r m nowrap">{formatNumber(c.slope_percent, 1)} %</td>
                      <td className="r m nowrap">{formatNumber(c.offset_mv, 1)} mV</td>
                      <td className="m nowrap">
                        {formatNumber(c.lowest_ph, 2)} – {formatNumber(c.highest_ph, 2)}
                      </td>
                      <td className="nowrap">{c.by}</td>
                    </tr>
                  ))}
                </tbody>
              </table>
            </div>
          </section>
        )}
      </main>
      <EvidencePanel title={device ? "Simulated instrument" : "Without a cable"}>
        {device ? (
          <SimulatedInstrument key={meter.id} meterId={meter.id} device={device} />
        ) : (
          <p className="quiet">
            This meter has no cable. You read its display and type what it shows; Brintel asks for the value
            before and after adjusting.
          </p>
        )}
        <h3>Limits in force</h3>
        <Rows
          rows={[
            ["Slope, sound", `${low} – ${high} %`],
            ["Slope, with a note", `${rules.ph.slope_usable_percent.join(" – ")} %`],
            ["Offset, sound", `±${rules.ph.offset_sound_mv} mV`],
            ["Check buffer", `±${rules.ph.check_ph[meter.place]} pH`],
          ]}
        />
      </EvidencePanel>
    </>
  );
}
