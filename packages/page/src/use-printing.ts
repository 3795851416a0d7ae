import { useEffect, useState } from 'react';

/** Whether the page is being printed. */
export function usePrinting(): boolean {
  const [isPrinting, setPrinting] = useState(false);
  useEffect(() => {
    const media = matchMedia('print');
    const told = () => setPrinting(media.matches);
    media.addEventListener('change', told);
    return () => media.removeEventListener('change', told);
  }, []);
  return isPrinting;
}
