import type { Marks } from './brand.ts';

/** How the instances of one of the platform's classes are looked into. */
export interface PlatformClass extends Marks {
  /** The properties of an instance, by accessor or field. */
  readonly keys?: readonly string[];
  /** The properties that never change, and so are read on demand. */
  readonly fixed?: readonly string[];
  /**
   * Accessors that add nothing to the content, or repeat it. If the class has an accessor that the entry does not
   * name, two instances that agree in all others are undecided.
   */
  readonly apart?: readonly string[];
  /** Whether it is a list of named values, looped over by its `forEach`: the fields of a form, say. */
  readonly isNamed?: boolean;
  /** Whether its names are the same in capitals and in small letters. */
  readonly isCaseless?: boolean;
  /** All that an instance holds, if one text says it. */
  readonly state?: (read: Read) => unknown;
  /** The state of an instance that cannot be read now, as words of a report. */
  readonly unseen?: (read: Read) => string | undefined;
  /** How an instance prints, if not by its class and its properties; `quote` cuts long texts. */
  readonly print?: (content: Content, quote: (text: unknown) => string, state: unknown) => string;
}

/** Gives a property of an instance, or calls a method without arguments: its own field, or the platform's. */
export type Read = (key: string) => unknown;

/** The content of an instance, by name. */
export type Content = Readonly<Record<PropertyKey, unknown>>;
