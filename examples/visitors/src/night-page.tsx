import Alert from '@mui/material/Alert';
import Button from '@mui/material/Button';
import Stack from '@mui/material/Stack';
import TextField from '@mui/material/TextField';
import Typography from '@mui/material/Typography';
import { useState } from 'react';
import { useNavigate, useParams } from 'react-router';
import { bookNight, problemOf, visitorsMost } from './nights.ts';

/** Books places on one night, once the visitor has confirmed. */
export function NightPage() {
  const { id = '' } = useParams();
  const navigate = useNavigate();
  const [visitors, setVisitors] = useState('2');
  const [isBooking, setBooking] = useState(false);
  const [told, setTold] = useState<{ readonly problem: boolean; readonly text: string }>();
  const problem = problemOf(visitors);
  const book = async () => {
    if (problem !== undefined) return;
    const count = Number(visitors);
    const places = count === 1 ? '1 place' : `${count} places`;
    if (!window.confirm(`Book ${places} on night ${id}?`)) return;
    setBooking(true);
    try {
      setTold({ problem: false, text: `Booked: ${await bookNight(Number(id), count)}` });
    } catch (error) {
      setTold({ problem: true, text: error instanceof Error ? error.message : String(error) });
    } finally {
      setBooking(false);
    }
  };
  return (
    <Stack spacing={2} sx={{ maxWidth: 420 }}>
      <Typography variant="h4" component="h1">
        Night {id}
      </Typography>
      <TextField
        label="Visitors"
        type="number"
        value={visitors}
        error={problem !== undefined}
        helperText={problem ?? `1 to ${visitorsMost}`}
        onChange={({ target }) => setVisitors(target.value)}
        slotProps={{ htmlInput: { min: 1, max: visitorsMost } }}
      />
      <Stack direction="row" spacing={2}>
        <Button variant="contained" disabled={problem !== undefined || isBooking} onClick={book}>
          Book
        </Button>
        <Button onClick={() => navigate('/')}>All nights</Button>
      </Stack>
      {told !== undefined && (
        <Alert severity={told.problem ? 'error' : 'success'}>{told.text}</Alert>
      )}
    </Stack>
  );
}
