import Alert from '@mui/material/Alert';
import Button from '@mui/material/Button';
import Card from '@mui/material/Card';
import CardActionArea from '@mui/material/CardActionArea';
import CardContent from '@mui/material/CardContent';
import Chip from '@mui/material/Chip';
import Stack from '@mui/material/Stack';
import Typography from '@mui/material/Typography';
import { useCallback, useEffect, useState } from 'react';
import { Link } from 'react-router';
import { loadNights, type Night } from './nights.ts';
import { SkyQuality } from './sky-quality-line.tsx';

type Loaded =
  | { readonly is: 'loading' }
  | { readonly is: 'here'; readonly nights: readonly Night[] }
  | { readonly is: 'broken'; readonly why: string };

/** The nights that can be booked. */
export function NightList() {
  const [loaded, setLoaded] = useState<Loaded>({ is: 'loading' });
  const load = useCallback(() => {
    setLoaded({ is: 'loading' });
    loadNights().then(
      (nights) => setLoaded({ is: 'here', nights }),
      (error: Error) => setLoaded({ is: 'broken', why: error.message }),
    );
  }, []);
  useEffect(load, []);
  return (
    <Stack spacing={2}>
      <Typography variant="h4" component="h1">
        Nights for visitors
      </Typography>
      <SkyQuality />
      {loaded.is === 'loading' && (
        <Typography role="status">The nights are being read …</Typography>
      )}
      {loaded.is === 'broken' && (
        <Alert
          severity="error"
          action={
            <Button color="inherit" size="small" onClick={load}>
              Try again
            </Button>
          }
        >
          {loaded.why}
        </Alert>
      )}
      {loaded.is === 'here' && loaded.nights.length === 0 && (
        <Alert severity="info">
          No night is open for visitors just now. Come back after the new moon.
        </Alert>
      )}
      {loaded.is === 'here' &&
        loaded.nights.map((night) => <NightCard key={night.id} night={night} />)}
    </Stack>
  );
}

/** One night: a full one is shown, and leads nowhere. */
function NightCard({ night: { id, date, star, places } }: { readonly night: Night }) {
  const isFull = places === 0;
  const told = (
    <CardContent>
      <Typography variant="h6" component="h2">
        {date}
      </Typography>
      <Stack direction="row" spacing={1} sx={{ alignItems: 'center' }}>
        <Typography color="text.secondary">
          {star} is high · {isFull ? 'full' : `${places} ${places === 1 ? 'place' : 'places'} left`}
        </Typography>
        {isFull && <Chip size="small" label="no places" />}
      </Stack>
    </CardContent>
  );
  return (
    <Card variant="outlined">
      {isFull ? (
        told
      ) : (
        <CardActionArea component={Link} to={`/nights/${id}`}>
          {told}
        </CardActionArea>
      )}
    </Card>
  );
}
