import { useState } from "react";
import { readValue } from "../../../core/quantity/entry";
import { formatNumber } from "../../../core/quantity/format";
import { pumpedVolume } from "../../../core/samples/purge";
import {
  type WellQuantity,
  type WellRound,
  wellLimits,
  wellQuantities,
  wellStability,
} from "../../../core/samples/stability";
import { purgeAt } from "../../../core/samples/visit";
import { roundProblem } from "../../../core/samples/well";
import { InBrowser } from "../../ui/charts/InBrowser";
import { lazyPart } from "../../ui/lazyPart";
import { NumberEntry } from "../../ui/NumberEntry";
import { VerdictMark } from "../../ui/VerdictMark";
import { WideTable } from "../../ui/WideTable";
import type { CardProps } from "./cardProps";

const RoundsChart = lazyPart(() => import("./RoundsChart"));

const none: Partial<Record<WellQuantity, string>> = {};

/** Rounds of field quantities while a well is pumped: when they agree, its water is the aquifer's. */
export default function RoundsCard({ state, now, add }: CardProps) {
  const [texts, setTexts] = useState(none);
  const [wrong, setWrong] = useState(none);
  const needed = state.plan.well?.rounds ?? 3;
  const rounds = state.rounds.map((r) => r.values);
  const steady = wellStability(rounds, needed);
  const purged = purgeAt(state, now)?.done ?? false;
  const keep = () => {
    const values: WellRound = {};
    const wrongs: typeof none = {};
    for (const q of wellQuantities) {
      const text = texts[q] ?? "";
      if (text.trim() === "") continue;
      const entry = readValue(text, "");
      const problem = "message" in entry ? entry.message : roundProblem(q, entry.value);
      if (problem !== null) wrongs[q] = problem;
      else if ("value" in entry) values[q] = entry.value;
    }
    if (Object.keys(values).length === 0 && Object.keys(wrongs).length === 0)
      wrongs.ph = "Measure at least one thing in a round.";
    setWrong(wrongs);
    if (Object.keys(wrongs).length > 0) return;
    add({ type: "round", values });
    setTexts(none);
  };
  const measured = wellQuantities.filter((q) => rounds.some((r) => r[q] !== undefined));
  return (
    <>
      {rounds.length > 0 && (
        <p role="status" className="visit-clock">
          {steady.stable ? (
            <>
              <VerdictMark verdict="sound" size={18} />{" "}
              <b>{purged ? "Steady: sample now." : "Steady. Pump the rest before you sample."}</b>
            </>
          ) : (
            <span>
              {rounds.length < needed
                ? `${needed} rounds that agree are needed.`
                : (steady.unsteady[0]?.words ?? "Measure the same things in each round.")}
            </span>
          )}
        </p>
      )}
      {rounds.length > 1 && (
        <InBrowser>
          <RoundsChart state={state} needed={needed} />
        </InBrowser>
      )}
      {rounds.length > 0 && (
        <WideTable name="Rounds">
          <table className="figures">
            <thead>
              <tr>
                <th>Pumped</th>
                {measured.map((q) => (
                  <th key={q} className="r">
                    {wellLimits[q].name}
                    <small> {wellLimits[q].words}</small>
                  </th>
                ))}
              </tr>
            </thead>
            <tbody>
              {state.rounds.map((round) => (
                <tr key={round.at}>
                  <td className="m">{formatNumber(pumpedVolume(state.flows, Date.parse(round.at)), 0)} L</td>
                  {measured.map((q) => {
                    const value = round.values[q];
                    return (
                      <td key={q} className="r m">
                        {value === undefined ? "" : formatNumber(value, wellLimits[q].decimals)}
                      </td>
                    );
                  })}
                </tr>
              ))}
            </tbody>
          </table>
        </WideTable>
      )}
      <form
        className="stack close"
        noValidate
        onSubmit={(event) => {
          event.preventDefault();
          keep();
        }}
      >
        <div className="rounds-fields">
          {wellQuantities.map((q) => (
            <NumberEntry
              key={q}
              label={`${wellLimits[q].name}${wellLimits[q].unit ? `, ${wellLimits[q].unit}` : ""}`}
              unit=""
              name={q}
              text={texts[q] ?? ""}
              onText={(text) => {
                setTexts({ ...texts, [q]: text });
                setWrong(none);
              }}
              wrong={wrong[q]}
            />
          ))}
        </div>
        <button type="submit" className="act">
          Keep this round
        </button>
      </form>
    </>
  );
}
