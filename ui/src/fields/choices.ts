/** The words of a table of labels, as choices. */
export function asChoices<T extends string>(labels: Record<T, string>): { id: T; label: string }[] {
  return (Object.entries(labels) as [T, string][]).map(([id, label]) => ({ id, label }));
}
