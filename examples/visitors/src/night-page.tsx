import Alert from '@mui/material/Alert';
import Button from '@mui/material/Button';
import Stack from '@mui/material/Stack';
import TextField from '@mui/material/TextField';
import Typography from '@mui/material/Typography';
import { useState } from 'react';
import { useNavigate, useParams } from 'react-router';
import { bookNight } from './nights.ts';

/** Books places on one night, once the visitor has confirmed. */
export function NightPage() {
  const { id = '' } = useParams();
  const navigate = useNavigate();
  const [visitors, setVisitors] = useState(2);
  const [told, setTold] = useState<{ readonly problem: boolean; readonly text: string }>();
  const book = async () => {
    const places = visitors === 1 ? '1 place' : `${visitors} places`;
    if (!window.confirm(`Book ${places} on night ${id}?`)) return;
    try {
      setTold({ problem: false, text: `Booked: ${await bookNight(Number(id), visitors)}` });
    } catch (error) {
      setTold({ problem: true, text: error instanceof Error ? error.message : String(error) });
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
        onChange={({ target }) => setVisitors(Number(target.value))}
        slotProps={{ htmlInput: { min: 1, max: 12 } }}
      />
      <Stack direction="row" spacing={2}>
        <Button variant="contained" onClick={book}>
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
