import { Input } from "antd";
import { useState } from "react";
import type { NewEvent } from "../../../core/bench/event";
import type { MethodStep } from "../../../core/methods/method";
import type { Raw } from "../../../core/methods/raw";
import type { RunEvent } from "../../../core/runs/runEvents";
import type { RunState } from "../../../core/runs/runState";
import { useKey } from "../../ui/keys";
import { ColourScale } from "./ColourScale";

type Colour = Extract<Raw, { kind: "colour" }>;

/** The scale that a step of a method was read by. */
function scaleFor({ method }: RunState, step: MethodStep, raw: Colour) {
  if (method.measure.technique === "comparator") return method.measure.scales[raw.scale]?.steps ?? [];
  if (method.measure.technique !== "strip" || step.kind !== "read") return [];
  return method.measure.pads.find((p) => p.key === step.pad)?.steps ?? [];
}

/** A second, blind look by somebody else, while the colour holds; what differs is then agreed on together. */
export function SecondLook({ state, add }: { state: RunState; add(event: NewEvent<RunEvent>): void }) {
  const [open, setOpen] = useState(false);
  const [observer, setObserver] = useState("");
  const looks = state.replicates.flatMap((own, replicate) =>
    state.method.steps.flatMap((step) => {
      const read = own.reads[step.id];
      return read && read.raw.kind === "colour" ? [{ replicate, step, read, raw: read.raw }] : [];
    }),
  );
  const last = looks.at(-1);
  const differing = looks.find(
    (l) => l.read.second && !l.read.agreed && JSON.stringify(l.read.second.raw) !== JSON.stringify(l.raw),
  );
  const asking = last !== undefined && !last.read.second;
  useKey("o", "o", "Let somebody else look", () => setOpen(true), asking && !open);
  if (differing) {
    return (
      <section className="sheet second-look" aria-label="Agree on the colour">
        <p>
          <b>You do not see the same.</b> Look together and choose what you agree on.
        </p>
        <ColourScale
          title="Agreed on"
          hint="Both looks are kept."
          steps={scaleFor(state, differing.step, differing.raw)}
          scale={differing.raw.scale}
          closed={false}
          keep={(raw) =>
            add({ type: "agreed", replicate: differing.replicate, step: differing.step.id, raw })
          }
        />
      </section>
    );
  }
  if (!last || !asking) return null;
  if (!open) {
    return (
      <button type="button" className="calm" onClick={() => setOpen(true)}>
        Let somebody else look <kbd>o</kbd>
      </button>
    );
  }
  return (
    <section className="sheet second-look" aria-label="A second look">
      <p>What the first look gave is not shown here. Who looks now?</p>
      <Input
        aria-label="Who looks"
        size="large"
        autoFocus
        value={observer}
        maxLength={60}
        onChange={(e) => setObserver(e.target.value)}
      />
      <ColourScale
        title="Second look"
        hint="Decide without a word to each other."
        steps={scaleFor(state, last.step, last.raw)}
        scale={last.raw.scale}
        closed={observer.trim() === ""}
        keep={(raw) => {
          add({
            type: "second-look",
            replicate: last.replicate,
            step: last.step.id,
            raw,
            observer: observer.trim(),
          });
          setOpen(false);
        }}
      />
    </section>
  );
}
