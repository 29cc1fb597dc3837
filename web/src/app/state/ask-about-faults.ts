import { inject, Injectable } from '@angular/core';
import { AskSettings } from '../ui/settings-dialog';
import type { CheckedFile } from './deliveries.store';

/** Says what is wrong with files before they are written, and asks whether they are wanted all the same. */
@Injectable({ providedIn: 'root' })
export class AskAboutFaults {
  private readonly ask = inject(AskSettings);

  readonly mayWrite = async (faulty: readonly CheckedFile[]): Promise<boolean> => {
    const [first] = faulty;
    const rest = faulty.length > 1 ? ` So it is, or worse, with ${faulty.length - 1} more.` : '';
    const fault = first?.findings.find(({ severity }) => severity === 'fault')?.text ?? '';
    const answer = await this.ask.ask({
      title: faulty.length === 1 ? 'One file has a fault' : `${faulty.length} files have faults`,
      explain: `${first?.item.file}: ${fault}${rest}`,
      action: 'Write them anyway',
      parameters: {},
    });
    return answer !== undefined;
  };
}
