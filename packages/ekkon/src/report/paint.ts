/** What a stretch of a report is, so that a terminal can colour it. */
export type Role = 'heading' | 'claim' | 'culprit' | 'expected' | 'received' | 'faint' | 'good';

/** Colours a stretch of text by what it is. The text itself never changes. */
export type Paint = (role: Role, text: string) => string;

/** No colour: what an error's message and a file get. */
export const unpainted: Paint = (_, text) => text;
