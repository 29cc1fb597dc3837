/** True while keys belong to a text field, a menu or a dialog rather than to the view. */
export function isTyping(event: KeyboardEvent): boolean {
  const target = event.target;
  if (!(target instanceof HTMLElement)) return false;
  return (
    target.isContentEditable ||
    target.closest('input, textarea, mat-select, .mat-mdc-menu-panel, .mat-mdc-select-panel, [role="dialog"]') !== null
  );
}
