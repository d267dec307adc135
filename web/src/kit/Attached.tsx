import type { Shapes } from "../api/client";
import { there } from "../api/site";
import { Download } from "./Download";

/** Photos and files of a record; `of` is the address under which they are given out. */
export function Attached({ files, of }: { files: Shapes["AttachedFile"][]; of: string }) {
  return (
    <div className="row wrap">
      {files.map((f) => {
        const href = `${of}/${f.id}`;
        return f.picture ? (
          <a key={f.id} href={there(href)} target="_blank" rel="noreferrer" title={f.name}>
            <img className="attached" src={there(href)} alt={f.name} />
          </a>
        ) : (
          <Download key={f.id} href={href}>
            {f.name}
          </Download>
        );
      })}
    </div>
  );
}
