/** A variable as an axis, a legend or a list names it: its label, with its unit. */
export const titled = ({ label, unit }: { label: string; unit: string | null }): string =>
  unit ? `${label} (${unit})` : label
