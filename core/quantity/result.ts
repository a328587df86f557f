/** A refusal as a value: a code for programs and a sentence a technician understands. */
export interface Refusal {
  code: string;
  message: string;
}

export type Result<T> = { ok: true; value: T } | { ok: false; error: Refusal };

export const ok = <T>(value: T): Result<T> => ({ ok: true, value });
export const err = (code: string, message: string): { ok: false; error: Refusal } => ({
  ok: false,
  error: { code, message },
});
