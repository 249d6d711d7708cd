import { DatePicker } from '@mui/x-date-pickers/DatePicker';
import dayjs from 'dayjs';

interface DateFieldProps {
  label: string;
  /** As 2027-03-04; empty for none. */
  value: string;
  onChange: (value: string) => void;
  width?: number;
}

const FORM = 'YYYY-MM-DD';

/** A date as it is written everywhere, typed or picked: 2027-03-04. Only whole dates are told. */
export function DateField({ label, value, onChange, width = 168 }: DateFieldProps) {
  return (
    <DatePicker
      label={label}
      format={FORM}
      value={value ? dayjs(value, FORM) : null}
      onChange={(date) => {
        if (date === null) {
          onChange('');
        } else if (date.isValid() && date.year() >= 1970) {
          onChange(date.format(FORM));
        }
      }}
      slotProps={{ textField: { size: 'small', sx: { width } } }}
    />
  );
}
