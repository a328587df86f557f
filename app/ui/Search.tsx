import { Input } from "antd";

/** A field that narrows what a page shows, while one types. */
export function Search({
  label,
  example,
  value,
  onChange,
}: {
  label: string;
  example: string;
  value: string;
  onChange(text: string): void;
}) {
  return (
    <Input
      aria-label={label}
      className="search"
      placeholder={example}
      value={value}
      onChange={(e) => onChange(e.target.value)}
      allowClear
    />
  );
}
