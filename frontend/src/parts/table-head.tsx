/** The names of a table's columns, empty for one that needs none; `wide`: the one that takes a third. */
export function TableHead({ names, wide }: { names: readonly React.ReactNode[]; wide?: number }) {
  return (
    <thead className="text-quiet">
      <tr>
        {names.map((name, n) =>
          // Columns stay where they are.
          name === '' ? (
            <td key={n} />
          ) : (
            <th key={n} className={n === wide ? 'w-1/3 font-normal' : 'font-normal'}>
              {name}
            </th>
          ),
        )}
      </tr>
    </thead>
  );
}
