import { nowIso } from "../../server/platform/clock.server";
import { useSending } from "../../ui/useSending";
import "../../styles/methods.css";
import HolderOutlined from "@ant-design/icons/es/icons/HolderOutlined";
import { Input } from "antd";
import { lazy, Suspense, useEffect, useMemo, useState } from "react";
import { data, Form, Link, redirect, useActionData, useLoaderData } from "react-router";
import type { Method, methodSchema } from "../../../core/methods/method";
import { dbContext, personContext } from "../../server/platform/contexts.server";
import { findMethod, saveMethod } from "../../server/runs/methods.server";
import { MethodCard } from "../../ui/MethodCard";
import { useUndo } from "../../ui/useUndo";
import type { Route } from "./+types/editMethod";
import { StepRow } from "./StepRow";

export const meta: Route.MetaFunction = ({ loaderData }) => [
  { title: `Edit ${loaderData?.document.name ?? "a method"} · Brintel` },
];

export async function loader({ params, context }: Route.LoaderArgs) {
  const stored = await findMethod(context.get(dbContext), params.methodId);
  if (!stored) throw new Response("No such method", { status: 404 });
  const { method, origin } = stored;
  return origin === "own"
    ? { document: method, basedOn: method.version, copyOf: null }
    : {
        document: { ...method, id: `${method.id}-own`, name: `${method.name}, own` },
        basedOn: 0,
        copyOf: method.name,
      };
}

export async function action({ request, context }: Route.ActionArgs) {
  const form = await request.formData();
  let document: unknown;
  try {
    document = JSON.parse(String(form.get("document")));
  } catch {
    return data({ problems: [{ path: "", message: "The document is not JSON." }] }, { status: 422 });
  }
  const saved = await saveMethod(
    context.get(dbContext),
    document,
    Number(form.get("basedOn")) || 0,
    String(form.get("reason") ?? "").trim() || "edited",
    context.get(personContext),
    nowIso(),
  );
  if ("problems" in saved) return data(saved, { status: 422 });
  return redirect(`/methods/${saved.saved.id}`);
}

const sortableSteps = () => import("./SortableSteps");
const SortableSteps = lazy(sortableSteps);

type Step = Method["steps"][number];

/** The schema of a method, loaded with the first change: who only looks needs none. */
const loadSchema = async () => (await import("../../../core/methods/method")).methodSchema;
function useMethodSchema(changed: boolean): typeof methodSchema | null {
  const [schema, setSchema] = useState<typeof methodSchema | null>(null);
  useEffect(() => {
    if (changed) void loadSchema().then((loaded) => setSchema(() => loaded));
  }, [changed]);
  return schema;
}

export default function EditMethod() {
  const { document: first, basedOn, copyOf } = useLoaderData<typeof loader>();
  const answer = useActionData<typeof action>();
  const busy = useSending();
  const { value: method, change: setMethod, undo, redo } = useUndo<Method>(first);
  const [text, setText] = useState<string | null>(null);
  const [textWrong, setTextWrong] = useState<string | null>(null);
  // What draws steps about is loaded by the first mouse or finger on a handle: the list is made anew then, and nothing else
  // may be pressed meanwhile.
  const [drawn, setDrawn] = useState(false);
  // Where it cannot be fetched, the list stays as it is, with its own buttons.
  const draw = () =>
    void sortableSteps().then(
      () => setDrawn(true),
      () => undefined,
    );
  const schema = useMethodSchema(method !== first);
  const checked = useMemo(() => schema?.safeParse(method), [schema, method]);
  const problems = [
    ...(answer && "problems" in answer ? answer.problems : []),
    ...(checked?.error?.issues ?? []).map((i) => ({ path: i.path.join("."), message: i.message })),
  ];
  const change = (part: Partial<Method>, of = "") => setMethod((m) => ({ ...m, ...part }), of);
  const changeStep = (index: number, part: Partial<Step>, of: string) =>
    setMethod(
      (m) => ({
        ...m,
        steps: m.steps.map((s, i) => (i === index ? ({ ...s, ...part } as Step) : s)),
      }),
      of && `${index} ${of}`,
    );
  const move = (from: number, to: number) =>
    setMethod((m) => {
      if (to < 0 || to >= m.steps.length) return m;
      const steps = [...m.steps];
      steps.splice(to, 0, ...steps.splice(from, 1));
      return { ...m, steps };
    });
  const addStep = (kind: "do" | "mix" | "wait") =>
    setMethod((m) => {
      const id = `step-${m.steps.length + 1}-${kind}`;
      const from = m.steps.find((s) => s.kind !== "wait")?.id ?? "";
      const step: Step =
        kind === "wait"
          ? {
              kind,
              id,
              text: "Wait.",
              once: false,
              exact: false,
              seconds: 60,
              window_s: 0,
              max_s: null,
              from,
              cold: null,
            }
          : kind === "mix"
            ? { kind, id, text: "Mix.", hands_s: 10, seconds: 10, once: false }
            : { kind, id, text: "Do this.", hands_s: 10, rinses: 0, once: false };
      const at = m.steps.findLastIndex((s) => s.kind === "read");
      return { ...m, steps: [...m.steps.slice(0, at), step, ...m.steps.slice(at)] };
    });
  const takeText = async () => {
    try {
      const parsed = (await loadSchema()).safeParse({ ...JSON.parse(text ?? ""), version: basedOn + 1 });
      if (!parsed.success)
        return setTextWrong(parsed.error.issues.map((i) => `${i.path.join(".")}: ${i.message}`).join(" "));
      setMethod(() => parsed.data);
      setText(null);
      setTextWrong(null);
    } catch {
      setTextWrong("This is not JSON. What you typed is kept here.");
    }
  };
  const row = (i: number) => {
    const step = method.steps[i];
    return (
      step && (
        <StepRow
          step={step}
          index={i}
          last={i === method.steps.length - 1}
          before={method.steps.slice(0, i)}
          onChange={(part, of) => changeStep(i, part, of)}
          onMove={(to) => move(i, to)}
          onRemove={() => change({ steps: method.steps.filter((_, k) => k !== i) })}
        />
      )
    );
  };
  const still = (
    <ol className="steps">
      {method.steps.map((step, i) => (
        <li key={step.id}>
          <span className="handle" aria-hidden="true" onPointerEnter={draw}>
            <HolderOutlined />
          </span>
          {row(i)}
        </li>
      ))}
    </ol>
  );
  return (
    <main className="method-editor stack">
      <div className="pagehead">
        <div>
          <h1>{copyOf ? `A copy of ${copyOf}` : `Edit ${first.name}`}</h1>
          <p className="sub">
            Shipped methods stay as they are; your own get a new version each time. Runs keep the version they
            used.
          </p>
        </div>
        <div className="cluster">
          <button type="button" className="calm" disabled={!undo} onClick={undo ?? undefined}>
            Undo
          </button>
          <button type="button" className="calm" disabled={!redo} onClick={redo ?? undefined}>
            Redo
          </button>
        </div>
      </div>
      {problems.length > 0 && (
        <div className="note" role="alert">
          <ul className="points">
            {problems.map((p, i) => (
              <li key={`${p.path}-${i}`}>{p.message}</li>
            ))}
          </ul>
        </div>
      )}
      <div className="two">
        <div className="field">
          <label htmlFor="method-name">Name</label>
          <Input
            id="method-name"
            size="large"
            value={method.name}
            onChange={(e) => change({ name: e.target.value }, "name")}
          />
        </div>
        <div className="field">
          <label htmlFor="method-id">Id, as in files and addresses</label>
          <Input
            id="method-id"
            size="large"
            className="m"
            disabled={basedOn > 0}
            value={method.id}
            onChange={(e) => change({ id: e.target.value }, "id")}
          />
        </div>
      </div>
      <h2>Steps</h2>
      {drawn ? (
        <Suspense fallback={still}>
          <SortableSteps ids={method.steps.map((s) => s.id)} onMove={move} row={row} />
        </Suspense>
      ) : (
        still
      )}
      <div className="cluster">
        <button type="button" className="calm strong" onClick={() => addStep("do")}>
          Add a step
        </button>
        <button type="button" className="calm strong" onClick={() => addStep("mix")}>
          Add mixing
        </button>
        <button type="button" className="calm strong" onClick={() => addStep("wait")}>
          Add a wait
        </button>
      </div>
      <h2>As its card will read</h2>
      <MethodCard method={method} />
      <h2>Everything else</h2>
      {text === null ? (
        <div className="cluster">
          <button
            type="button"
            className="calm strong"
            onClick={() => setText(JSON.stringify(method, null, 2))}
          >
            Edit the whole document, or paste one
          </button>
        </div>
      ) : (
        <>
          <label className="calm strong">
            Open a file
            <input
              type="file"
              accept=".json,application/json"
              className="hidden"
              onChange={async (e) => setText((await e.target.files?.[0]?.text()) ?? text)}
            />
          </label>
          <Input.TextArea
            aria-label="The document as JSON"
            rows={18}
            value={text}
            onChange={(e) => setText(e.target.value)}
          />
          {textWrong && (
            <p className="wrong" role="alert">
              {textWrong}
            </p>
          )}
          <div className="actions">
            <button type="button" className="calm strong" onClick={() => void takeText()}>
              Take it over
            </button>
            <button type="button" className="calm" onClick={() => setText(null)}>
              Leave it
            </button>
          </div>
        </>
      )}
      <Form method="post" className="form">
        <input type="hidden" name="document" value={JSON.stringify(method)} />
        <input type="hidden" name="basedOn" value={basedOn} />
        <div className="field">
          <label htmlFor="reason">What changed, and why</label>
          <Input id="reason" name="reason" size="large" maxLength={200} />
        </div>
        <div className="actions">
          <button type="submit" className="act" disabled={busy || checked?.success === false}>
            Keep version {basedOn + 1}
          </button>
          <Link to="/runs" className="calm">
            Leave it
          </Link>
        </div>
      </Form>
    </main>
  );
}
