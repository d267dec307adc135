import { Button } from "antd";
import { useEffect, useRef, useState } from "react";

interface Detector {
  detect: (video: HTMLVideoElement) => Promise<{ rawValue: string }[]>;
}
type DetectorKind = new () => Detector;

const kind = () => (window as unknown as { BarcodeDetector?: DetectorKind }).BarcodeDetector;
const EVERY = 250;

/** Reads the code on an asset's plate with the camera, where the device can. */
export function Scan({ found }: { found: (code: string) => void }) {
  const [open, setOpen] = useState(false);
  const [wrong, setWrong] = useState<string | null>(null);
  if (!kind() || !navigator.mediaDevices) return null;
  return (
    <>
      <Button
        onClick={() => {
          setWrong(null);
          setOpen(!open);
        }}
      >
        {open ? "Stop the camera" : "Scan its plate"}
      </Button>
      {open && (
        <Camera
          found={(code) => {
            setOpen(false);
            found(code);
          }}
          failed={(why) => {
            setOpen(false);
            setWrong(why);
          }}
        />
      )}
      {wrong && (
        <p className="brick small" role="alert">
          {wrong}
        </p>
      )}
    </>
  );
}

function Camera({ found, failed }: { found: (code: string) => void; failed: (why: string) => void }) {
  const video = useRef<HTMLVideoElement>(null);
  const told = useRef({ found, failed });
  useEffect(() => {
    told.current = { found, failed };
  });
  useEffect(() => {
    let stream: MediaStream | null = null;
    let over = false;
    let timer: ReturnType<typeof setTimeout> | undefined;
    const Kind = kind()!;
    const detector = new Kind();
    const look = async () => {
      if (over || !video.current) return;
      const codes = await detector.detect(video.current).catch(() => []);
      if (codes[0]) told.current.found(codes[0].rawValue);
      else timer = setTimeout(() => void look(), EVERY);
    };
    navigator.mediaDevices
      .getUserMedia({ video: { facingMode: "environment" } })
      .then(async (got) => {
        stream = got;
        if (over || !video.current) return got.getTracks().forEach((t) => t.stop());
        video.current.srcObject = got;
        await video.current.play();
        await look();
      })
      .catch(() => told.current.failed("The camera can not be used here. Type the code instead."));
    return () => {
      over = true;
      clearTimeout(timer);
      stream?.getTracks().forEach((t) => t.stop());
    };
  }, []);
  return <video ref={video} muted playsInline style={{ width: "100%", borderRadius: 6 }} />;
}
