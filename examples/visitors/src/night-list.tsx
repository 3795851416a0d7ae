import Alert from '@mui/material/Alert';
import Card from '@mui/material/Card';
import CardActionArea from '@mui/material/CardActionArea';
import CardContent from '@mui/material/CardContent';
import Stack from '@mui/material/Stack';
import Typography from '@mui/material/Typography';
import { useEffect, useState } from 'react';
import { Link } from 'react-router';
import { loadNights, type Night } from './nights.ts';
import { SkyQuality } from './sky-quality-line.tsx';

/** The nights that can be booked. */
export function NightList() {
  const [nights, setNights] = useState<readonly Night[]>([]);
  const [problem, setProblem] = useState<string>();
  useEffect(() => {
    loadNights().then(setNights, (error: Error) => setProblem(error.message));
  }, []);
  return (
    <Stack spacing={2}>
      <Typography variant="h4" component="h1">
        Nights for visitors
      </Typography>
      <SkyQuality />
      {problem !== undefined && <Alert severity="error">{problem}</Alert>}
      {nights.map(({ id, date, star, places }) => (
        <Card key={id} variant="outlined">
          <CardActionArea component={Link} to={`/nights/${id}`}>
            <CardContent>
              <Typography variant="h6" component="h2">
                {date}
              </Typography>
              <Typography color="text.secondary">
                {star} is high · {places === 0 ? 'full' : `${places} places left`}
              </Typography>
            </CardContent>
          </CardActionArea>
        </Card>
      ))}
    </Stack>
  );
}
