/** Our mark: a low sun half over a line of haze. */
export function Mark() {
  return (
    <svg
      width="26"
      height="22"
      viewBox="0 0 26 22"
      fill="none"
      stroke="currentColor"
      strokeWidth="1.8"
      aria-hidden="true"
    >
      <path d="M6 12a7 7 0 0 1 14 0M1 12h24M4 16h18M8 20h10" />
    </svg>
  );
}
