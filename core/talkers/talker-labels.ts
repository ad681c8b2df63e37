/** Who contributes: the values of the keys; null for events without the field. */
export type TalkerLabels = readonly (string | null)[];
