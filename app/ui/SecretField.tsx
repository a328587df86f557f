import { Input } from "antd";

/** A password or PIN: hidden until its eye is pressed. What browsers and password keepers look for is in its names. */
export function SecretField({
  name,
  id = name,
  label,
  wrong,
  hint,
  kind,
  digits = false,
  focus = false,
}: {
  name: string;
  /** Where a page has several of the name. */
  id?: string;
  label: string;
  wrong?: string | undefined;
  hint?: string;
  kind: "current-password" | "new-password" | "one-time-code";
  digits?: boolean;
  focus?: boolean;
}) {
  return (
    <div className="field">
      <label htmlFor={id}>{label}</label>
      <Input.Password
        id={id}
        name={name}
        size="large"
        autoComplete={kind}
        autoFocus={focus}
        maxLength={digits ? 8 : 200}
        {...(digits ? { inputMode: "numeric" as const } : {})}
        status={wrong ? "error" : ""}
        aria-invalid={wrong ? true : undefined}
        aria-describedby={`${id}-says`}
        className={digits ? "m" : ""}
      />
      <div id={`${id}-says`}>
        {wrong ? (
          <div className="wrong" role="alert">
            {wrong}
          </div>
        ) : hint ? (
          <div className="hint">{hint}</div>
        ) : null}
      </div>
    </div>
  );
}
