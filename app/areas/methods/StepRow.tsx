import "../../styles/antd.number.generated.css";
import { Input, InputNumber, Select } from "antd";
import type { Method } from "../../../core/methods/method";

type Step = Method["steps"][number];

function Seconds({
  label,
  value,
  onValue,
  before,
}: {
  label: string;
  value: number;
  onValue(value: number): void;
  before?: string;
}) {
  return (
    <InputNumber
      aria-label={label}
      min={0}
      max={1_209_600}
      precision={0}
      prefix={before}
      suffix="s"
      className="step-seconds"
      value={value}
      onChange={(v) => onValue(v ?? 0)}
    />
  );
}

/** One step of a method as it is edited: what is done, how long, and its place. */
export function StepRow({
  step,
  index,
  last,
  before,
  onChange,
  onMove,
  onRemove,
}: {
  step: Step;
  index: number;
  last: boolean;
  /** The steps before it, after which its clock may start. */
  before: readonly Step[];
  onChange(part: Partial<Step>, of: string): void;
  onMove(to: number): void;
  onRemove(): void;
}) {
  const n = index + 1;
  return (
    <>
      <span className="m quiet">{n}</span>
      <div className="stack close">
        <Input.TextArea
          aria-label={`Step ${n}, what is done`}
          autoSize
          maxLength={400}
          value={step.text}
          onChange={(e) => onChange({ text: e.target.value }, "text")}
        />
        <div className="cluster">
          {step.kind === "wait" ? (
            <>
              <Seconds
                label={`Step ${n}, seconds`}
                value={step.seconds}
                onValue={(seconds) => onChange({ seconds }, "seconds")}
                before="wait"
              />
              <Select
                aria-label={`Step ${n}, kind of wait`}
                value={step.exact}
                popupMatchSelectWidth={false}
                options={[
                  { value: true, label: "read exactly then, ±" },
                  { value: false, label: "at least" },
                ]}
                onChange={(exact) => onChange({ exact, window_s: exact ? step.window_s || 5 : 0 }, "")}
              />
              {step.exact && (
                <Seconds
                  label={`Step ${n}, window`}
                  value={step.window_s}
                  onValue={(window_s) => onChange({ window_s }, "window")}
                />
              )}
              <Select
                aria-label={`Step ${n}, its clock starts after`}
                value={step.from}
                popupMatchSelectWidth={false}
                options={before.flatMap((s, k) =>
                  s.kind === "wait" ? [] : [{ value: s.id, label: `after step ${k + 1}` }],
                )}
                onChange={(from) => onChange({ from }, "")}
              />
            </>
          ) : (
            <>
              <Seconds
                label={`Step ${n}, hands`}
                value={step.hands_s}
                onValue={(hands_s) => onChange({ hands_s }, "hands")}
                before="hands"
              />
              {step.kind === "do" && (
                <InputNumber
                  aria-label={`Step ${n}, rinses`}
                  min={0}
                  max={10}
                  precision={0}
                  prefix="rinses"
                  className="step-seconds"
                  value={step.rinses}
                  onChange={(rinses) => onChange({ rinses: rinses ?? 0 }, "rinses")}
                />
              )}
            </>
          )}
        </div>
      </div>
      <div className="step-place">
        <button
          type="button"
          className="calm"
          aria-label={`Step ${n} up`}
          disabled={index === 0}
          onClick={() => onMove(index - 1)}
        >
          ↑
        </button>
        <button
          type="button"
          className="calm"
          aria-label={`Step ${n} down`}
          disabled={last}
          onClick={() => onMove(index + 1)}
        >
          ↓
        </button>
        <button type="button" className="calm" aria-label={`Remove step ${n}`} onClick={onRemove}>
          ×
        </button>
      </div>
    </>
  );
}
