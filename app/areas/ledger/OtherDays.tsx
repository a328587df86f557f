import "../../styles/antd.dates.generated.css";
import { DatePicker } from "antd";
import english from "antd/es/date-picker/locale/en_GB";
import dayjs, { type Dayjs } from "dayjs";
import "dayjs/locale/en-gb";
import { useId, useState } from "react";
import { Dialog } from "../../ui/Dialog";

/** As dates are written in the house, and as they are typed by those who count years first. */
const formats = ["D MMM YYYY", "YYYY-MM-DD", "D.M.YYYY"];
const read = (date: string | undefined): Dayjs | null => (date ? dayjs(date) : null);
const written = (day: Dayjs | null): string | undefined => day?.format("YYYY-MM-DD");

function DayField({
  label,
  day,
  onDay,
}: {
  label: string;
  day: Dayjs | null;
  onDay(day: Dayjs | null): void;
}) {
  const id = useId();
  return (
    <div className="field">
      <label htmlFor={id}>{label}</label>
      <DatePicker
        id={id}
        locale={english}
        format={formats}
        value={day}
        onChange={onDay}
        placeholder="any day"
      />
    </div>
  );
}

/** Two dates, each of which may be left open. */
export default function OtherDays({
  from,
  to,
  onClose,
  onChoose,
}: {
  from: string | undefined;
  to: string | undefined;
  onClose(): void;
  onChoose(from: string | undefined, to: string | undefined): void;
}) {
  const [first, setFirst] = useState(read(from));
  const [last, setLast] = useState(read(to));
  const turned = first !== null && last !== null && first.isAfter(last);
  return (
    <Dialog title="Which days" onClose={onClose} width={420}>
      <div className="stack">
        <div className="two">
          <DayField label="From" day={first} onDay={setFirst} />
          <DayField label="To" day={last} onDay={setLast} />
        </div>
        {turned && (
          <p className="wrong" role="alert">
            The first day is after the last.
          </p>
        )}
        <div className="cluster">
          <button
            type="button"
            className="act small"
            disabled={turned}
            onClick={() => onChoose(written(first), written(last))}
          >
            Show these days
          </button>
        </div>
      </div>
    </Dialog>
  );
}
