/** Work of one kind that is under way, one inside another. */
interface UnderWay {
  readonly isUnderWay: () => boolean;
  readonly run: <R>(work: () => R) => R;
}

function underWay(): UnderWay {
  let depth = 0;
  return {
    isUnderWay: () => depth > 0,
    run(work) {
      depth++;
      try {
        return work();
      } finally {
        depth--;
      }
    },
  };
}

const readings = underWay();
const questions = underWay();

/** Whether Ekkon is reading a platform object: the platform's own calls for that are nobody's. */
export const isQuiet = readings.isUnderWay;

/** Reads something of the platform, which may call others of its members: nothing of that is recorded. */
export const quietly = readings.run;

/** Whether a user's predicate, matcher or schema is running: its calls are not calls of the program. */
export const isAsking = questions.isUnderWay;

/** Runs somebody's predicate, matcher or schema. */
export const asking = questions.run;
