import Button from '@mui/material/Button';
import Stack from '@mui/material/Stack';
import Typography from '@mui/material/Typography';
import { useState } from 'react';
import type { Star } from './star-chart.ts';

/** The chart of the sky, which is loaded when somebody wants to see it. */
export function StarPage() {
  const [stars, setStars] = useState<readonly Star[]>();
  const show = async () => setStars((await import('./star-chart.ts')).stars);
  return (
    <Stack spacing={2}>
      <Typography variant="h4" component="h1">
        Stars
      </Typography>
      {stars === undefined ? (
        <Button variant="contained" onClick={show} sx={{ alignSelf: 'flex-start' }}>
          Show the chart
        </Button>
      ) : (
        <svg
          role="img"
          aria-label={`A chart of ${stars.length} stars`}
          viewBox="0 0 100 100"
          style={{ maxWidth: 520, background: '#0b1026', borderRadius: 8 }}
        >
          {stars.map(({ name, x, y, brightness }) => (
            <g key={name}>
              <circle cx={x} cy={y} r={brightness / 3} fill="#ffe9b0" />
              <text x={x + 2.5} y={y + 1} fontSize="3.2" fill="#d7def5">
                {name}
              </text>
            </g>
          ))}
        </svg>
      )}
    </Stack>
  );
}
