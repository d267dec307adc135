/** One parameter: what it is called, its figure, what it does. */
export function Line({
  label,
  unit,
  why,
  children,
}: {
  label: string;
  unit: string;
  why: string;
  children: React.ReactNode;
}) {
  return (
    <div className="parameter">
      <span className="strong">{label}</span>
      <span className="row">
        {children} <span className="soft">{unit}</span>
      </span>
      <span className="soft">{why}</span>
    </div>
  );
}
