import { t } from '@lingui/core/macro';
import { Component, type ReactNode } from 'react';
import { Failed } from './State';

/**
 * Holds a page: one that breaks, or a part of which could not be fetched, says so in its own place, and what stands around it stays. At
 * another place it begins anew.
 */
export class Mishap extends Component<{ at: string; children: ReactNode }, { broken: boolean }> {
  override state = { broken: false };

  static getDerivedStateFromError(): { broken: boolean } {
    return { broken: true };
  }

  override componentDidUpdate(before: { at: string }): void {
    if (this.state.broken && before.at !== this.props.at) this.setState({ broken: false });
  }

  override render(): ReactNode {
    if (!this.state.broken) return this.props.children;
    return (
      <Failed
        error={new Error(t`Something on this page went wrong. Nothing is lost; load it again.`)}
        again={() => location.reload()}
      />
    );
  }
}
