/** A hollow diamond: something that is due, or not done yet. */
export function DueMark({ size = 16 }: { size?: number }) {
  return (
    <svg
      width={size}
      height={size}
      viewBox="0 0 16 16"
      fill="none"
      stroke="var(--ink3)"
      strokeWidth="1.8"
      aria-hidden="true"
    >
      <path d="M8 3l5 5-5 5-5-5z" />
    </svg>
  );
}
