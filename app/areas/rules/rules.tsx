import { useSending } from "../../ui/useSending";
import "./rules.css";
import { Checkbox, Input } from "antd";
import { useState } from "react";
import { data, Form, redirect, useActionData, useLoaderData } from "react-router";
import { counted } from "../../../core/quantity/format";
import {
  type HouseRuleField,
  houseRuleFields,
  houseRuleGroups,
  isDefault,
  type RuleChange,
  ruleChanges,
  rulesFromEntries,
  ruleValue,
  showRule,
} from "../../../core/rules/houseRuleFields";
import { defaultHouseRules } from "../../../core/rules/houseRules";
import { showPistons } from "../../../core/rules/pistons";
import { dateSchema } from "../../../core/time/date";
import { localDate } from "../../../core/time/local";
import { showTime } from "../../../core/time/words";
import { dayBounds } from "../../../core/time/zone";
import { nowIso } from "../../server/platform/clock.server";
import { dbContext, personContext } from "../../server/platform/contexts.server";
import { textField } from "../../server/platform/forms.server";
import { may } from "../../server/platform/rights.server";
import { confirmRejudging } from "../../server/results/rejudge.server";
import type { RejudgingPreview } from "../../server/results/rejudgeChanges.server";
import { preview, startRejudging } from "../../server/results/rejudgeRunner.server";
import { changeRules, rulesHistory, rulesInForce } from "../../server/rules/rules.server";
import { DayField } from "../../ui/DayField";
import { EvidencePanel, Rows } from "../../ui/EvidencePanel";
import { RejudgingPreviewTable } from "../../ui/RejudgingPreview";
import { Search } from "../../ui/Search";
import type { Route } from "./+types/rules";
import { RuleRow } from "./RuleRow";

export const meta: Route.MetaFunction = () => [{ title: "House rules · Brintel" }];

export async function loader({ context }: Route.LoaderArgs) {
  const db = context.get(dbContext);
  const { version, rules } = await rulesInForce(db);
  return {
    version,
    rules,
    history: await rulesHistory(db),
    today: localDate(nowIso(), rules.zone),
    mayChange: may(context.get(personContext), "rules"),
  };
}

interface Answer {
  errors: Record<string, string>;
  changes: RuleChange[];
  preview: RejudgingPreview | null;
}
const nothing: Answer = { errors: {}, changes: [], preview: null };

/** `look` shows what would change, `keep` writes the next version, `keep-and-rejudge` re-judges from a day on as well. */
export async function action({ request, context }: Route.ActionArgs) {
  const db = context.get(dbContext);
  const person = context.get(personContext);
  const refuse = (errors: Record<string, string>) => data({ ...nothing, errors }, { status: 422 });
  const form = await request.formData();
  const present = await rulesInForce(db);
  const entries = Object.fromEntries(
    houseRuleFields.flatMap(({ path }) => (form.has(path) ? [[path, String(form.get(path))]] : [])),
  );
  const read = rulesFromEntries(present.rules, entries);
  if ("errors" in read) return refuse(read.errors);
  const changes = ruleChanges(present.rules, read.rules);
  if (changes.length === 0) return refuse({ form: "Nothing is different from the rules in force." });
  const from = textField(form, "from") || localDate(nowIso(), present.rules.zone);
  if (!dateSchema.safeParse(from).success)
    return refuse({ form: "Give the day to look back to as year-month-day." });
  const since = dayBounds(present.rules.zone).start(from);
  const intent = form.get("do");
  if (intent === "look") {
    return data({
      ...nothing,
      changes,
      preview: await preview(db, { kind: "rules", subject_id: since }, read.rules),
    });
  }
  const reason = textField(form, "reason");
  if (!reason)
    return data({ ...nothing, changes, errors: { reason: "Say why the rules change." } }, { status: 422 });
  const now = nowIso();
  const kept = await changeRules(db, Number(form.get("version")), read.rules, reason, person, now);
  if (!kept) return refuse({ form: "Somebody changed the rules meanwhile. Look at them again." });
  if (intent === "keep-and-rejudge") {
    const request_ = { kind: "rules" as const, subject_id: since };
    startRejudging(await confirmRejudging(db, request_, `house rules version ${kept.version}`, person, now));
  }
  return redirect("/rules");
}

export default function Rules() {
  const { version, rules, history, today, mayChange } = useLoaderData<typeof loader>();
  const answer: Answer = useActionData<typeof action>() ?? nothing;
  const busy = useSending();
  const [text, setText] = useState("");
  const [onlyChanged, setOnlyChanged] = useState(false);
  const wanted = text.trim().toLowerCase();
  const groups = houseRuleGroups.map((group) => ({
    group,
    id: `rules-${group.title.toLowerCase().replace(/[^a-z]+/g, "-")}`,
    changed: group.fields.filter((f) => !isDefault(rules, f)).length,
    // What could not be understood is seen whatever is looked for.
    seen: new Set(
      group.fields
        .filter(
          (f) =>
            answer.errors[f.path] !== undefined ||
            (`${f.title} ${f.reason} ${group.title}`.toLowerCase().includes(wanted) &&
              !(onlyChanged && isDefault(rules, f))),
        )
        .map((f) => f.path),
    ),
  }));
  const changed = groups.reduce((sum, g) => sum + g.changed, 0);
  const kinds = groups
    .filter((g) => g.seen.size > 0)
    .map((g) => (
      <a key={g.id} href={`#${g.id}`}>
        {g.group.title}
        {g.changed > 0 && <span className="quiet small">{g.changed} changed</span>}
      </a>
    ));
  return (
    <>
      <main className="stack">
        <div>
          <h1>House rules</h1>
          <p className="sub">
            Version {version} is in force; every reading keeps the version it was judged by. Days begin and
            end in {rules.zone}.
          </p>
        </div>
        <div className="cluster">
          <Search label="Find a rule" example="Slope, rinses, duplicates …" value={text} onChange={setText} />
          <Checkbox checked={onlyChanged} onChange={(e) => setOnlyChanged(e.target.checked)}>
            Only what differs from the default ({counted(changed, "rule")})
          </Checkbox>
        </div>
        <nav className="rule-index across" aria-label="Kinds of rules">
          {kinds}
        </nav>
        {groups.every((g) => g.seen.size === 0) && (
          <p className="quiet" role="status">
            No rule is called that.
          </p>
        )}
        <Form method="post" key={version} className="rules-form">
          <input type="hidden" name="version" value={version} />
          {groups.map(({ group, seen, id }) => (
            <section key={group.title} id={id} className="sheet rule-group" hidden={seen.size === 0}>
              <h2>{group.title}</h2>
              {group.fields.map((field) => (
                <RuleRow
                  key={field.path}
                  field={field}
                  wrong={answer.errors[field.path]}
                  standard={isDefault(rules, field)}
                  initial={initialText(rules, field)}
                  shownDefault={showRule(defaultHouseRules, field)}
                  disabled={!mayChange}
                  hidden={!seen.has(field.path)}
                />
              ))}
            </section>
          ))}
          {mayChange && (
            <section className="sheet rule-group rule-keep" aria-label="Change the rules">
              {answer.errors.form && (
                <p className="wrong" role="alert">
                  {answer.errors.form}
                </p>
              )}
              {Object.keys(answer.errors).some((k) => k.includes(".")) && (
                <p className="wrong" role="alert">
                  One of the rules above could not be understood. What you typed is still there.
                </p>
              )}
              {answer.changes.length > 0 && (
                <div role="status">
                  <h2>What would change</h2>
                  <Rows rows={answer.changes.map((c) => [c.title, `${c.before} → ${c.after}`])} />
                </div>
              )}
              {answer.preview && (
                <>
                  <h3>
                    {answer.preview.changed} of {answer.preview.readings} readings since that day would be
                    judged otherwise
                  </h3>
                  <RejudgingPreviewTable preview={answer.preview} zone={rules.zone} />
                </>
              )}
              <div className="two">
                <div className="field">
                  <label htmlFor="reason">Why the rules change</label>
                  <Input
                    id="reason"
                    name="reason"
                    size="large"
                    status={answer.errors.reason ? "error" : ""}
                  />
                  {answer.errors.reason && <div className="wrong">{answer.errors.reason}</div>}
                </div>
                <DayField
                  name="from"
                  label="Look back to"
                  initial={today}
                  max={today}
                  hint="Readings before that day keep their rules."
                />
              </div>
              <div className="actions">
                <button
                  type="submit"
                  name="do"
                  value="look"
                  className={answer.changes.length ? "calm strong" : "act"}
                  disabled={busy}
                >
                  See what would change
                </button>
                {answer.changes.length > 0 && (
                  <>
                    <button type="submit" name="do" value="keep" className="act" disabled={busy}>
                      Keep for readings from now on
                    </button>
                    {answer.preview && answer.preview.changed > 0 && (
                      <button
                        type="submit"
                        name="do"
                        value="keep-and-rejudge"
                        className="calm strong"
                        disabled={busy}
                      >
                        Keep, and re-judge {answer.preview.readings} readings
                      </button>
                    )}
                  </>
                )}
              </div>
            </section>
          )}
        </Form>
      </main>
      <EvidencePanel title="Kinds and versions">
        <nav className="rule-index beside" aria-label="Kinds of rules">
          {kinds}
        </nav>
        <h3>Versions</h3>
        <ul className="findings">
          {history.map((h) => (
            <li key={h.version}>
              <div>
                <b className="m">{h.version}</b> {h.reason}
                <div className="limit">
                  {showTime(h.at, rules.zone, "both")}
                  {h.by ? `, ${h.by}` : ""}
                </div>
              </div>
            </li>
          ))}
        </ul>
        <p className="quiet small">
          Nothing that was judged changes by itself: old readings keep their version until somebody asks for
          new rules and has seen what they do.
        </p>
      </EvidencePanel>
    </>
  );
}

function initialText(rules: Parameters<typeof ruleValue>[0], field: HouseRuleField): string {
  const value = ruleValue(rules, field.path);
  if (field.kind === "pistons") return showPistons(rules.solutions.pistons);
  if (field.kind === "pieces") return (value as number[]).join(" ");
  return Array.isArray(value) ? value.join(" – ") : String(value);
}
