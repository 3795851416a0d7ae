import type { KeyboardEvent, ReactNode } from 'react';

interface ButtonProps {
  readonly children: ReactNode;
  /** Left out if it sends a form. */
  readonly onClick?: () => void;
  readonly label?: string;
  readonly isDisabled?: boolean;
  readonly isPressed?: boolean;
}

/** A button that stands in a line of text or of tools. */
export function Button({ children, onClick, label, isDisabled = false, isPressed }: ButtonProps) {
  const named = label === undefined ? {} : { 'aria-label': label, title: label };
  return (
    <button
      type={onClick === undefined ? 'submit' : 'button'}
      className="button"
      disabled={isDisabled}
      {...(onClick === undefined ? {} : { onClick })}
      {...named}
      {...(isPressed === undefined ? {} : { 'aria-pressed': isPressed })}
    >
      {children}
    </button>
  );
}

interface TabsProps<T extends string> {
  readonly label: string;
  readonly tabs: readonly { readonly value: T; readonly label: string }[];
  readonly value: T;
  readonly onChange: (value: T) => void;
}

/** Tabs by the pattern of ARIA's authoring practices: arrows, Home and End lead from one to the next. */
export function Tabs<T extends string>({ label, tabs, value, onChange }: TabsProps<T>) {
  const at = tabs.findIndex((tab) => tab.value === value);
  const move = (event: KeyboardEvent<HTMLDivElement>) => {
    const places: Readonly<Record<string, number>> = {
      ArrowRight: (at + 1) % tabs.length,
      ArrowLeft: (at + tabs.length - 1) % tabs.length,
      Home: 0,
      End: tabs.length - 1,
    };
    const to = tabs[places[event.key] ?? -1];
    if (to === undefined) return;
    event.preventDefault();
    onChange(to.value);
    (event.currentTarget as HTMLElement).querySelector<HTMLElement>(`#tab-${to.value}`)?.focus();
  };
  return (
    <div role="tablist" aria-label={label} className="tabs" onKeyDown={move}>
      {tabs.map((tab) => (
        <button
          key={tab.value}
          type="button"
          role="tab"
          id={`tab-${tab.value}`}
          className="tab"
          aria-controls="panel"
          aria-selected={tab.value === value}
          tabIndex={tab.value === value ? 0 : -1}
          onClick={() => onChange(tab.value)}
        >
          {tab.label}
        </button>
      ))}
    </div>
  );
}
