import { Checkbox } from "antd";
import { Dialog } from "../../ui/Dialog";
import { type ColumnKey, ledgerColumns } from "./columns";

/** Which columns the ledger shows; kept in this browser. */
export default function ChooseColumns({
  columns,
  onColumns,
  onClose,
}: {
  columns: readonly ColumnKey[];
  onColumns(keys: ColumnKey[]): void;
  onClose(): void;
}) {
  const turn = (key: ColumnKey, shown: boolean) =>
    onColumns(ledgerColumns.map((l) => l.key).filter((k) => (k === key ? shown : columns.includes(k))));
  return (
    <Dialog title="Which columns" onClose={onClose} width={420}>
      <div className="stack close">
        <p className="quiet">Kept in this browser.</p>
        {ledgerColumns
          .filter((c) => !("fixed" in c))
          .map((c) => (
            <Checkbox
              key={c.key}
              checked={columns.includes(c.key)}
              onChange={(e) => turn(c.key, e.target.checked)}
            >
              {c.title}
            </Checkbox>
          ))}
      </div>
    </Dialog>
  );
}
