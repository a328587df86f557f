import { useRef, useState } from "react";
import { Form } from "react-router";
import { useSending } from "../../ui/useSending";

const keys = ["1", "2", "3", "4", "5", "6", "7", "8", "9", "", "0", "⌫"];

/** A PIN by finger or by keys: big enough for gloves, and nothing but dots is seen of it. */
export function PinPad({ person, to, wrong }: { person: string; to: string; wrong: string | undefined }) {
  const [pin, setPin] = useState("");
  const field = useRef<HTMLInputElement>(null);
  const busy = useSending();
  const press = (key: string) => {
    setPin((before) => (key === "⌫" ? before.slice(0, -1) : (before + key).slice(0, 8)));
    field.current?.focus();
  };
  return (
    <Form method="post" action={to} className="pin" aria-label="PIN">
      <input type="hidden" name="person" value={person} />
      <input type="hidden" name="do" value="pin" />
      <label htmlFor="pin">Your PIN</label>
      <input
        id="pin"
        name="pin"
        ref={field}
        type="password"
        inputMode="numeric"
        autoComplete="off"
        maxLength={8}
        className="m"
        value={pin}
        onChange={(e) => setPin(e.target.value.replace(/\D/g, ""))}
        aria-invalid={wrong ? true : undefined}
        aria-describedby="pin-says"
        autoFocus
      />
      <div id="pin-says" className="wrong" role="alert">
        {wrong}
      </div>
      <div className="pin-keys">
        {keys.map((key) =>
          key ? (
            <button
              key={key}
              type="button"
              className="calm strong m"
              onClick={() => press(key)}
              aria-label={key === "⌫" ? "Take the last digit back" : key}
            >
              {key}
            </button>
          ) : (
            <span key="none" />
          ),
        )}
      </div>
      <button type="submit" className="act" disabled={busy || pin.length < 4}>
        Go on
      </button>
    </Form>
  );
}
