import { Select } from "antd";
import { useState } from "react";
import { readValue } from "../../../core/quantity/entry";
import type { Unit } from "../../../core/quantity/unit";
import { unitNamed } from "../../../core/quantity/unit";
import { NumberEntry } from "../../ui/NumberEntry";
import { TypedField } from "../../ui/TypedField";
import type { InputSchema } from "./inputSchema";
import { PointGrid } from "./PointGrid";

type Values = Record<string, unknown>;

const at = (path: string, key: string | number) => (path ? `${path}.${key}` : String(key));

const unitChoices: Record<string, string> = { mol_l: "mol/L", eq_l: "eq/L", mg_l: "mg/L" };
const choiceWords = (value: string) => unitChoices[value] ?? value.replaceAll("-", " ");

/** A form made from a calculator's published input schema. */
export function SchemaFields({
  schema,
  values,
  errors,
  path,
  onChange,
}: {
  schema: InputSchema;
  values: Values;
  errors: Record<string, string>;
  path: string;
  onChange(values: Values): void;
}) {
  return (
    <div className="schema-fields">
      {Object.entries(schema.properties ?? {}).map(([key, property]) => {
        const here = at(path, key);
        const set = (value: unknown) => onChange({ ...values, [key]: value });
        if (property.enum) {
          return (
            <div className="field" key={key}>
              <span className="label">{property.title ?? key}</span>
              <Select
                aria-label={property.title ?? key}
                size="large"
                style={{ width: "100%" }}
                value={String(values[key] ?? property.default ?? "")}
                options={property.enum.map((value) => ({ value, label: choiceWords(value) }))}
                onChange={set}
              />
              {errors[here] && <div className="wrong">{errors[here]}</div>}
            </div>
          );
        }
        if (property.anyOf?.every((one) => one.properties)) {
          return (
            <OneOf
              key={key}
              label={property.title ?? key}
              groups={property.anyOf}
              values={(values[key] as Values | undefined) ?? {}}
              errors={errors}
              path={here}
              onChange={set}
            />
          );
        }
        if (property.items?.type === "number") {
          return (
            <NumberList
              key={key}
              label={property.title ?? key}
              unit={property.unit ?? ""}
              values={values[key]}
              wrong={
                errors[here] ?? Object.entries(errors).find(([path]) => path.startsWith(`${here}.`))?.[1]
              }
              onChange={set}
            />
          );
        }
        if (property.items) {
          return (
            <PointGrid
              key={key}
              property={property}
              rows={(values[key] as Values[] | undefined) ?? []}
              errors={errors}
              path={here}
              onChange={set}
            />
          );
        }
        if (property.type === "string") {
          return (
            <TypedField
              mono
              key={key}
              label={property.title ?? key}
              value={String(values[key] ?? "")}
              wrong={errors[here]}
              onChange={set}
            />
          );
        }
        return (
          <NumberField
            key={key}
            label={property.title ?? key}
            unit={(property.unit ?? "") as Unit}
            value={values[key]}
            wrong={errors[here]}
            onChange={set}
          />
        );
      })}
    </div>
  );
}

/** Groups of inputs of which one counts: which, then its own fields. What stood in another is forgotten. */
function OneOf({
  label,
  groups,
  values,
  errors,
  path,
  onChange,
}: {
  label: string;
  groups: readonly InputSchema[];
  values: Values;
  errors: Record<string, string>;
  path: string;
  onChange(values: Values): void;
}) {
  const has = (group: InputSchema) => Object.keys(group.properties ?? {}).some((key) => key in values);
  const [chosen, choose] = useState(Math.max(0, groups.findIndex(has)));
  const group = groups[chosen];
  return (
    <fieldset className="list-field">
      <legend>{label}</legend>
      <div className="stack close">
        <Select
          aria-label={label}
          size="large"
          style={{ width: "100%" }}
          value={chosen}
          options={groups.map(({ title }, value) => ({ value, label: title ?? String(value + 1) }))}
          onChange={(next: number) => {
            choose(next);
            onChange({});
          }}
        />
        {group && (
          <SchemaFields
            key={chosen}
            schema={group}
            values={values}
            errors={errors}
            path={path}
            onChange={onChange}
          />
        )}
        {errors[path] && <div className="wrong">{errors[path]}</div>}
      </div>
    </fieldset>
  );
}

/** Several numbers in one field, with semicolons between them so that a comma may be a decimal point. */
function NumberList({
  label,
  unit,
  values,
  wrong,
  onChange,
}: {
  label: string;
  unit: string;
  values: unknown;
  wrong: string | undefined;
  onChange(values: unknown): void;
}) {
  const [text, setText] = useState(Array.isArray(values) ? values.join("; ") : "");
  return (
    <TypedField
      mono
      label={`${label}${unit ? `, ${unit}` : ""}, with ; between them`}
      value={text}
      wrong={wrong}
      onChange={(next) => {
        setText(next);
        const parts = next.split(";").map((part) => part.trim());
        onChange(
          parts.filter(Boolean).map((part) => {
            const read = readValue(part, unitNamed(unit));
            return "value" in read ? read.value : part;
          }),
        );
      }}
    />
  );
}

function NumberField({
  label,
  unit,
  value,
  wrong,
  onChange,
}: {
  label: string;
  unit: Unit;
  value: unknown;
  wrong: string | undefined;
  onChange(value: unknown): void;
}) {
  const [text, setText] = useState(value === undefined ? "" : String(value));
  return (
    <NumberEntry
      name={label}
      label={label}
      unit={unit}
      text={text}
      wrong={wrong}
      onText={(next) => {
        setText(next);
        const single = readValue(next, unit);
        onChange("value" in single ? single.value : next.trim() === "" ? undefined : next);
      }}
    />
  );
}
