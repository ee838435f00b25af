import { cameraWords } from './cameraWords';

test.each([
  ['Fjordlys Fjordlys F7', 'Fjordlys F7'],
  ['FJORDLYS CORPORATION Fjordlys F7 II', 'Fjordlys F7 II'],
  ['Fjordlys F7', 'Fjordlys F7'],
  ['Brevhult Brevhult', 'Brevhult Brevhult'],
  ['Scanner', 'Scanner'],
])('%s is called %s', (told, called) => expect(cameraWords(told)).toBe(called));
