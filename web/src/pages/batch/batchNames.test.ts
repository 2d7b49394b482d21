import { expect, it } from 'vitest';
import { filesFor, jobNames } from './batchNames.ts';

const files = ['pump.stp', 'Lamp.obj', 'lamp.stl', 'valve 2.1.stp'].map((name) => ({ name }));

it('calls jobs after their files, with the ending where two would be called the same', () => {
  expect(jobNames(files)).toEqual(['pump', 'Lamp.obj', 'lamp.stl', 'valve 2.1']);
});

it('finds the file that each job waits for, also of a few that are dropped again', () => {
  const jobs = jobNames(files).map((name, i) => ({ job: `j${i}`, name }));
  expect(filesFor(jobs, files)).toEqual(files.map((file, i) => ({ job: `j${i}`, file })));
  const again = [{ name: 'lamp.stl' }, { name: 'other.stp' }];
  expect(filesFor(jobs, again)).toEqual([{ job: 'j2', file: again[0] }]);
});
