/** The stations that are there, with the keys that they keep when the others come. */
export interface Station {
  id: string;
  key: string;
  title: string;
  lead: string;
}

export const STATIONS: readonly Station[] = [
  { id: 'receive', key: '1', title: 'Receive', lead: 'Take the sources in, and see what they say of themselves.' },
  { id: 'arrange', key: '3', title: 'Arrange', lead: 'Which way is up, where parts turn, what they are called.' },
  { id: 'finishes', key: '4', title: 'Finishes', lead: 'Which material goes on what, in one table.' },
  { id: 'lighten', key: '5', title: 'Lighten', lead: 'Fewer triangles, and know what it costs.' },
  { id: 'transmit', key: '7', title: 'Transmit', lead: 'Send, read back, keep what was sent.' },
];

export function stationName(id: string): string {
  return STATIONS.find((station) => station.id === id)?.title ?? id;
}
