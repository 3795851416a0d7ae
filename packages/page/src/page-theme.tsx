import type { ReactNode } from 'react';
import './page.css';

/** Colours and type of a page, light or dark as the system is. */
export function PageTheme({ children }: { readonly children: ReactNode }) {
  return <>{children}</>;
}
