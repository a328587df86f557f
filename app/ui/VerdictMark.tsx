import type { CalibrationVerdict, Severity, Verdict } from "../../core/judgement/finding";

export type AnyVerdict = Verdict | CalibrationVerdict;

/** sound = ring closed · qualified = ring with a notch · held and failed = open ring · void = ring struck through */
const shapes: Record<AnyVerdict, React.ReactNode> = {
  sound: <circle cx="8" cy="8" r="5.6" />,
  qualified: (
    <>
      <path d="M10.6 3.1A5.6 5.6 0 1 0 13 5.6" />
      <circle cx="12.4" cy="3.4" r="0.9" />
    </>
  ),
  held: <path d="M8 2.4A5.6 5.6 0 0 0 8 13.6" />,
  failed: <path d="M8 2.4A5.6 5.6 0 0 0 8 13.6" />,
  void: (
    <>
      <circle cx="8" cy="8" r="5.6" />
      <path d="M3 13 13 3" />
    </>
  ),
};

/** The shape of a verdict; with `word` the word stands beside it, otherwise it is read out. */
export function VerdictMark({
  verdict,
  size = 16,
  word = false,
}: {
  verdict: AnyVerdict;
  size?: number;
  word?: boolean;
}) {
  return (
    <span className={`verdict v-${verdict}`} title={word ? undefined : verdict}>
      <svg
        width={size}
        height={size}
        viewBox="0 0 16 16"
        fill="none"
        stroke="currentColor"
        strokeWidth="2.6"
        aria-hidden="true"
      >
        {shapes[verdict]}
      </svg>
      {word ? verdict : <span className="hidden">{verdict}</span>}
    </span>
  );
}

/** The verdict a single finding would lead to. */
export const severityVerdict: Record<Severity, Verdict> = { ok: "sound", qualify: "qualified", hold: "held" };
