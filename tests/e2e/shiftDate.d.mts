export function shiftDate(ahead_ms: number): void;
