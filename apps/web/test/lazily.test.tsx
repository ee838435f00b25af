import { act, render, screen } from '@testing-library/react';
import { Component, type ReactNode } from 'react';
import { lazily } from '@/ui/lazily';

class Caught extends Component<{ children: ReactNode }, { error: string | null }> {
  override state = { error: null };
  static getDerivedStateFromError = (error: Error) => ({ error: error.message });
  override render() {
    return this.state.error ?? this.props.children;
  }
}

const settle = () => act(async () => undefined);

test('what is fetched later stands as soon as it has come, in every place that waits for it, and at once the next time', async () => {
  let come!: (part: () => ReactNode) => void;
  let asked = 0;
  const Later = lazily<object>(
    () => {
      asked++;
      return new Promise<() => ReactNode>((resolve) => (come = resolve));
    },
    () => 'waiting',
  );
  const { rerender, unmount } = render(<Later />);
  rerender(
    <>
      <Later />
      <Later />
    </>,
  );
  expect(screen.getAllByText(/waiting/)).toHaveLength(1);
  come(() => <p>here</p>);
  await settle();
  expect([screen.getAllByText('here').length, asked]).toEqual([2, 1]);
  unmount();
  render(<Later />);
  expect(screen.getAllByText('here')).toHaveLength(1);
});

test('what could not be fetched is told, and asked for again by the next who needs it', async () => {
  let lost = true;
  const Later = lazily<object>(() =>
    lost ? Promise.reject(new Error('no line')) : Promise.resolve(() => <p>here</p>),
  );
  const said = jest.spyOn(console, 'error').mockImplementation(() => undefined);
  const { unmount } = render(
    <Caught>
      <Later />
    </Caught>,
  );
  await settle();
  expect(screen.getByText('no line')).toBeTruthy();
  unmount();
  said.mockRestore();
  lost = false;
  render(<Later />);
  await settle();
  expect(screen.getByText('here')).toBeTruthy();
});
