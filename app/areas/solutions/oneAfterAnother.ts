/** Asks for one thing after another: what is asked meanwhile waits, and of what waits only the newest is asked. */
export function oneAfterAnother<T>(send: (asked: T) => void): { ask(asked: T): void; answered(): void } {
  let asking = false;
  let waiting: { asked: T } | null = null;
  const begin = (asked: T) => {
    asking = true;
    send(asked);
  };
  return {
    ask(asked) {
      if (asking) waiting = { asked };
      else begin(asked);
    },
    /** The answer has come, or none will. */
    answered() {
      const next = waiting;
      asking = false;
      waiting = null;
      if (next) begin(next.asked);
    },
  };
}
