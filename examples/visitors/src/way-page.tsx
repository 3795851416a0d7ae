import Alert from '@mui/material/Alert';
import Button from '@mui/material/Button';
import Stack from '@mui/material/Stack';
import Typography from '@mui/material/Typography';
import { useState } from 'react';

/** Where the made-up observatory stands, in degrees. */
const observatory = { latitude: 47.5, longitude: -32.25 };

/** Says how far it is from where the visitor is. */
export function WayPage() {
  const [told, setTold] = useState<string>();
  const find = () => {
    navigator.geolocation.getCurrentPosition(
      ({ coords }) => setTold(`It is ${Math.round(distanceTo(coords))} km from here.`),
      ({ code }) =>
        setTold(
          code === 1
            ? 'You did not say where you are: the ferry leaves from the old harbour.'
            : 'Where you are is not known: the ferry leaves from the old harbour.',
        ),
      { timeout: 10_000 },
    );
  };
  return (
    <Stack spacing={2} sx={{ maxWidth: 420 }}>
      <Typography variant="h4" component="h1">
        The way here
      </Typography>
      <Button variant="contained" onClick={find}>
        From where I am
      </Button>
      {told !== undefined && <Alert severity="info">{told}</Alert>}
    </Stack>
  );
}

/** Kilometres on a sphere, by the haversine formula. */
function distanceTo({
  latitude,
  longitude,
}: {
  readonly latitude: number;
  readonly longitude: number;
}): number {
  const radians = (degrees: number) => (degrees * Math.PI) / 180;
  const half = (one: number, other: number) => Math.sin(radians(other - one) / 2) ** 2;
  const chord =
    half(latitude, observatory.latitude) +
    Math.cos(radians(latitude)) *
      Math.cos(radians(observatory.latitude)) *
      half(longitude, observatory.longitude);
  return 2 * 6_371 * Math.asin(Math.sqrt(chord));
}
