/** Assets by what they are part of. */
import { describe, expect, it } from "vitest";

import { kept, treeOf } from "../src/features/orders/AssetTree";

const asset = (key: string, parent: string | null) => ({ key, name: `Asset ${key}`, area: "North", parent });
const SITE = [
  asset("N1", null),
  asset("N1-1", "N1"),
  asset("N1-1-a", "N1-1"),
  asset("N2", null),
  asset("N3", "gone"),
];

describe("the tree of assets", () => {
  it("has each asset once, beneath what it is part of, on top if that is not there", () => {
    const tree = treeOf(SITE);
    expect(tree.map((b) => b.key)).toEqual(["N1", "N2", "N3"]);
    expect(tree[0]!.children[0]!.children.map((b) => b.key)).toEqual(["N1-1-a"]);
  });
  it("keeps what is wanted and all above it", () => {
    const found = kept(treeOf(SITE), new Set(["N1-1-a"]));
    expect(found.map((b) => b.key)).toEqual(["N1"]);
    expect(found[0]!.children.map((b) => b.key)).toEqual(["N1-1"]);
  });
});
