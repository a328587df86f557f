import { Dialog } from "../../ui/Dialog";
import { usePageKeys } from "../../ui/keys";

/** The keys that work on the page in view. All of them can be done by touch as well. */
export default function KeyHelp({ onClose }: { onClose(): void }) {
  const keys = usePageKeys();
  return (
    <Dialog onClose={onClose} title="Keys of this page" width={480}>
      <table className="figures">
        <tbody>
          {keys.map((key) => (
            <tr key={key.keys + key.does}>
              <td className="nowrap">
                <kbd>{key.shown}</kbd>
              </td>
              <td>{key.does}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </Dialog>
  );
}
