import { Input, Tree } from "antd";
import { useMemo, useState } from "react";

import type { Shapes } from "../../api/client";

type Asset = Shapes["AssetChoice"];

interface Branch {
  key: string;
  title: string;
  children: Branch[];
}

/**
 * The site's assets by what they are part of: arrows walk and unfold, Enter chooses; words narrow them down.
 */
export function AssetTree({
  assets,
  value,
  choose,
}: {
  assets: Asset[];
  value: string;
  choose: (key: string) => void;
}) {
  const [text, setText] = useState("");
  const words = text.toLowerCase().split(/\s+/).filter(Boolean);
  const tree = useMemo(() => treeOf(assets), [assets]);
  const hits = words.length
    ? assets.filter((a) => words.every((w) => `${a.name} ${a.key}`.toLowerCase().includes(w)))
    : [];
  const open = new Set(
    [...(words.length ? hits : assets.filter((a) => a.key === value))].flatMap((a) => above(a, assets)),
  );
  const shown = words.length ? kept(tree, new Set(hits.map((a) => a.key))) : tree;
  return (
    <div className="stack">
      <Input
        autoFocus
        allowClear
        aria-label="Find in the tree"
        placeholder="words of a name or code"
        value={text}
        onChange={(e) => setText(e.target.value)}
        onPressEnter={(e) => {
          e.preventDefault();
          if (hits.length === 1) choose(hits[0]!.key);
        }}
      />
      {shown.length === 0 && <p className="soft">No asset is called so.</p>}
      <Tree
        key={text || "all"}
        blockNode
        height={520}
        aria-label="Assets"
        treeData={shown}
        defaultExpandedKeys={[...open]}
        selectedKeys={value ? [value] : []}
        onSelect={(_, { node }) => choose(String(node.key))}
      />
    </div>
  );
}

/** Assets beneath what they are part of, those of no other on top. */
export function treeOf(assets: Asset[]): Branch[] {
  const of = new Map<string, Branch>(
    assets.map((a) => [a.key, { key: a.key, title: `${a.name} · ${a.key}`, children: [] }]),
  );
  const top: Branch[] = [];
  for (const a of assets) (of.get(a.parent ?? "")?.children ?? top).push(of.get(a.key)!);
  return top;
}

/** Keys of all that an asset is part of. */
function above(asset: Asset, assets: Asset[]): string[] {
  const out: string[] = [];
  for (let at = asset.parent; at && !out.includes(at); at = assets.find((a) => a.key === at)?.parent ?? null)
    out.push(at);
  return out;
}

/** The branches that hold something wanted. */
export function kept(tree: Branch[], wanted: Set<string>): Branch[] {
  return tree.flatMap((b) => {
    const children = kept(b.children, wanted);
    return wanted.has(b.key) || children.length ? [{ ...b, children }] : [];
  });
}
