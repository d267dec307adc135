import { Alert, Button } from "antd";

export interface FieldDiffers {
  record: string;
  field: string;
  label: string;
  before: string;
  after: string;
  by: string;
}

/** What others changed of a record while a form was being filled in; what was typed stays in the form. */
export function Differs({ lines, apply }: { lines: FieldDiffers[]; apply: () => void }) {
  return (
    <Alert
      type="warning"
      showIcon
      title="Somebody changed this meanwhile. Nothing was saved, and what you typed is still here."
      description={
        <>
          <table className="list" aria-label="What differs" style={{ cursor: "default" }}>
            <thead>
              <tr>
                <th>What</th>
                <th>You saw</th>
                <th>Now</th>
                <th>By</th>
              </tr>
            </thead>
            <tbody>
              {lines.map((d) => (
                <tr key={`${d.record} ${d.field}`} style={{ cursor: "default" }}>
                  <td>{d.record ? `${d.label} of task ${d.record}` : d.label}</td>
                  <td className="soft whole">{d.before}</td>
                  <td className="whole">{d.after}</td>
                  <td dir="auto">{d.by}</td>
                </tr>
              ))}
            </tbody>
          </table>
          <Button size="small" style={{ marginTop: 8 }} onClick={apply}>
            Put what I typed on top of what is there now
          </Button>
        </>
      }
    />
  );
}
