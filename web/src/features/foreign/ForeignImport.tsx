import { Alert, Upload } from "antd";
import { useState } from "react";

import { DifferenceView } from "./DifferenceView";
import { MappingView } from "./MappingView";
import { Lately } from "../imports/Lately";
import { open, openAgain, type Mapping, type Opened } from "./useForeign";

/** An export of another system: choose it, say how it is read, decide what comes in. */
export function ForeignImport() {
  const [opened, setOpened] = useState<Opened | null>(null);
  const [mapping, setMapping] = useState<Mapping | null>(null);
  const [leaveOut, setLeaveOut] = useState(false);
  const [comparing, setComparing] = useState(false);
  const [wrong, setWrong] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);
  const again = () => {
    setOpened(null);
    setComparing(false);
    setLeaveOut(false);
  };
  const take = async (get: () => Promise<Opened>) => {
    setBusy(true);
    setWrong(null);
    try {
      const got = await get();
      setOpened(got);
      setMapping(got.mapping);
    } catch (bad) {
      setWrong((bad as Error).message);
    } finally {
      setBusy(false);
    }
  };
  if (opened && mapping && comparing)
    return (
      <DifferenceView
        opened={opened}
        mapping={mapping}
        leaveOut={leaveOut}
        back={() => setComparing(false)}
        again={again}
      />
    );
  if (opened && mapping)
    return (
      <MappingView
        opened={opened}
        mapping={mapping}
        change={setMapping}
        leaveOut={leaveOut}
        setLeaveOut={setLeaveOut}
        go={() => setComparing(true)}
        again={again}
      />
    );
  return (
    <div style={{ maxWidth: 1120 }}>
      <p className="soft" style={{ margin: "4px 0 14px" }}>
        A list of open work as another system writes it: CSV or XLSX, any columns, any language. You see how
        it is understood before anything comes in, and what differs from what is here.
      </p>
      <Upload.Dragger
        style={{ height: 130 }}
        accept=".csv,.txt,.xlsx"
        showUploadList={false}
        disabled={busy}
        beforeUpload={(file) => {
          void take(() => open(file));
          return false;
        }}
      >
        <p style={{ padding: 14 }}>{busy ? "Being read …" : "Drop one export here, or click to choose it"}</p>
      </Upload.Dragger>
      {wrong && (
        <Alert
          style={{ marginTop: 12 }}
          type="error"
          showIcon
          title="The file was not taken"
          description={wrong}
        />
      )}
      <Lately again={(file) => void take(() => openAgain(file))} />
    </div>
  );
}
