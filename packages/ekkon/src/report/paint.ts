/** The role of a part of a report, by which a terminal colors it. */
export type Role = 'heading' | 'claim' | 'culprit' | 'expected' | 'received' | 'faint' | 'good';

/** Colors a part of a text by its role. The text itself never changes. */
export type Paint = (role: Role, text: string) => string;

/** No color: for an error's message and for files. */
export const unpainted: Paint = (_, text) => text;
