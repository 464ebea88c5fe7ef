const [WIDTH, HEIGHT] = [96, 26];

/** What a formula gives over the layer's span, over what the property is without it. */
export function FormulaPlot({ plot, plain }: { plot: number[][]; plain: number[][] }) {
  const all = [...plot, ...plain].flat();
  const [low, high] = [Math.min(...all), Math.max(...all)];
  const wide = Math.max(plot.length - 1, 1);
  const line = (rows: number[][], part: number) =>
    rows
      .map((row, i) => {
        const y = high > low ? (row[part] - low) / (high - low) : 0.5;
        return `${i ? "L" : "M"}${((i / wide) * WIDTH).toFixed(1)} ${(HEIGHT - 2 - y * (HEIGHT - 4)).toFixed(1)}`;
      })
      .join("");
  const parts = plot[0]?.map((_, part) => part) ?? [];
  return (
    <svg width={WIDTH} height={HEIGHT} role="img" aria-label="The value over the span" data-testid="formula-plot">
      {parts.map((part) => (
        <path
          key={`base ${part}`}
          d={line(plain, part)}
          fill="none"
          stroke="var(--chakra-colors-edge)"
          strokeWidth="1.5"
        />
      ))}
      {parts.map((part) => (
        <path key={part} d={line(plot, part)} fill="none" stroke="var(--chakra-colors-act)" strokeWidth="1.5" />
      ))}
    </svg>
  );
}
