'use client';
import Button from '@mui/material/Button';

/** What is shown when a view fails: nothing that was acknowledged is lost, and the rest waits in this browser. */
export default function Failed({ error, reset }: { error: Error; reset: () => void }) {
  return (
    <main className="message">
      <h1 className="serif">This view stopped</h1>
      <p role="alert">{error.message}</p>
      <p>Your work is saved, or kept in this browser until it is. Show the view again; if it stops again, reload the page.</p>
      <Button variant="contained" onClick={reset}>
        Show it again
      </Button>
    </main>
  );
}
