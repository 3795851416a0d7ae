import Typography from '@mui/material/Typography';
import { useEffect, useState } from 'react';
import { followSky } from './sky-quality.ts';

/** How dark the sky is just now. */
export function SkyQuality() {
  const [darkness, setDarkness] = useState<number>();
  useEffect(() => {
    const controller = new AbortController();
    // A sky that cannot be read is not told: the desk works without it.
    followSky(setDarkness, controller.signal).catch(() => {});
    return () => controller.abort();
  }, []);
  return (
    <Typography role="status" color="text.secondary">
      {darkness === undefined ? 'The sky is being measured …' : `Sky: ${darkness} mag/arcsec²`}
    </Typography>
  );
}
