import {
  createColumnHelper,
  rowSelectionFeature,
  tableFeatures,
  useTable,
  type RowSelectionState,
} from '@tanstack/react-table';
import { useState, type ChangeEvent } from 'react';

const features = tableFeatures({ rowSelectionFeature });

interface Numbered {
  id: number;
}

const columns = createColumnHelper<typeof features, Numbered>().columns([]);

/** Which rows of a list are picked; it belongs to whoever shows the list. */
export interface Picking<T> {
  picked: T[];
  all: boolean;
  some: boolean;
  isPicked: (row: T) => boolean;
  /** For the box of a row: with shift, all from the row before are picked, or none of them. */
  toggle: (row: T) => (event: ChangeEvent<HTMLInputElement>) => void;
  toggleAll: () => void;
  clear: () => void;
}

/** Rows that can be picked, one, all, or from one to another with shift. What is not listed any more is not picked. */
export function usePicking<T extends Numbered>(rows: T[]): Picking<T> {
  const [rowSelection, setRowSelection] = useState<RowSelectionState>({});
  const table = useTable({
    features,
    columns,
    data: rows as Numbered[],
    getRowId: (row) => String(row.id),
    state: { rowSelection },
    onRowSelectionChange: setRowSelection,
  });
  const isPicked = (row: T) => rowSelection[String(row.id)] === true;
  return {
    picked: rows.filter(isPicked),
    all: rows.length > 0 && rows.every(isPicked),
    some: rows.some(isPicked),
    isPicked,
    toggle: (row) => table.getRow(String(row.id)).getToggleSelectedHandler(),
    toggleAll: () => table.toggleAllRowsSelected(),
    clear: () => table.setRowSelection({}),
  };
}
