interface Reason {
  readonly text: string;
}

export const fails = ({ text }: Reason): never => {
  throw new Error(text); // line 6
};
