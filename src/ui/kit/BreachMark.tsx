/** The mark of what model or law do not allow; the words are for whoever rests on it, and for readers of the page. */
export const BreachMark = ({ words }: { words: string }) => (
  <span className="breach" title={words}>
    {' !'}
    <span className="visually-hidden">{words}</span>
  </span>
);
