import { inject } from '@angular/core';
import { MatIconRegistry } from '@angular/material/icon';
import { DomSanitizer } from '@angular/platform-browser';
import {
  mdiAlertOutline,
  mdiArrowCollapseVertical,
  mdiContentCut,
  mdiSwapHorizontal,
  mdiTarget,
  mdiGroup,
  mdiDotsGrid,
  mdiMicrophoneOutline,
  mdiSkipNext,
  mdiSkipPrevious,
  mdiVideoOutline,
  mdiCheck,
  mdiCheckCircleOutline,
  mdiChevronDown,
  mdiClose,
  mdiContentDuplicate,
  mdiDeleteOutline,
  mdiDice5Outline,
  mdiDotsHorizontal,
  mdiDownload,
  mdiFitToPageOutline,
  mdiFlagOutline,
  mdiHelpCircleOutline,
  mdiLock,
  mdiLockOpenOutline,
  mdiMagnify,
  mdiMinus,
  mdiPencilOutline,
  mdiPlay,
  mdiPlus,
  mdiPower,
  mdiRecordCircleOutline,
  mdiRedo,
  mdiRefresh,
  mdiRepeat,
  mdiStop,
  mdiTrayArrowDown,
  mdiUndo,
  mdiVolumeHigh,
  mdiVolumeOff,
} from '@mdi/js';

const paths = {
  alert: mdiAlertOutline,
  align: mdiArrowCollapseVertical,
  print: mdiRecordCircleOutline,
  cut: mdiContentCut,
  reverse: mdiSwapHorizontal,
  land: mdiTarget,
  group: mdiGroup,
  chop: mdiDotsGrid,
  microphone: mdiMicrophoneOutline,
  picture: mdiVideoOutline,
  frameBack: mdiSkipPrevious,
  frameOn: mdiSkipNext,
  /** Keeps the place of a tick that is not there. */
  none: '',
  check: mdiCheck,
  kept: mdiCheckCircleOutline,
  expand: mdiChevronDown,
  close: mdiClose,
  duplicate: mdiContentDuplicate,
  delete: mdiDeleteOutline,
  dice: mdiDice5Outline,
  more: mdiDotsHorizontal,
  download: mdiDownload,
  fit: mdiFitToPageOutline,
  flag: mdiFlagOutline,
  help: mdiHelpCircleOutline,
  locked: mdiLock,
  unlocked: mdiLockOpenOutline,
  search: mdiMagnify,
  minus: mdiMinus,
  rename: mdiPencilOutline,
  play: mdiPlay,
  plus: mdiPlus,
  power: mdiPower,
  redo: mdiRedo,
  refresh: mdiRefresh,
  loop: mdiRepeat,
  stop: mdiStop,
  import: mdiTrayArrowDown,
  undo: mdiUndo,
  volume: mdiVolumeHigh,
  silent: mdiVolumeOff,
} as const;

export type IconName = keyof typeof paths;

/** Registers the icons that the application uses as inline SVG; nothing is fetched for them. */
export function registerIcons(): void {
  const registry = inject(MatIconRegistry);
  const sanitizer = inject(DomSanitizer);
  for (const [name, path] of Object.entries(paths)) {
    registry.addSvgIconLiteral(name, sanitizer.bypassSecurityTrustHtml(`<svg viewBox="0 0 24 24"><path d="${path}"/></svg>`));
  }
}
