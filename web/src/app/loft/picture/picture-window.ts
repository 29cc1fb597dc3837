import { Injectable, signal } from '@angular/core';
import type { PictureFrame } from '../../engine/picture-reader';

/** The picture in a window of its own, to be put onto another screen. It shows what the monitor shows, as large as the window. */
@Injectable()
export class PictureWindow {
  /** True while the window is open. */
  readonly open = signal(false);
  private view: { readonly window: Window; readonly canvas: HTMLCanvasElement } | undefined;

  /** Opens the window; false when the browser does not let it. */
  show(title: string): boolean {
    if (this.view && !this.view.window.closed) {
      this.view.window.focus();
      return true;
    }
    const opened = globalThis.open('', 'tangled-choir-picture', 'popup,width=960,height=540');
    if (!opened) return false;
    const { document } = opened;
    document.title = title;
    document.body.replaceChildren();
    Object.assign(document.body.style, { margin: '0', background: '#000', overflow: 'hidden' });
    // Made in this page and taken over by the other window: decoded frames only draw themselves onto canvases of their own page.
    const canvas = globalThis.document.createElement('canvas');
    canvas.setAttribute('role', 'img');
    canvas.setAttribute('aria-label', title);
    Object.assign(canvas.style, { display: 'block', width: '100vw', height: '100vh', objectFit: 'contain' });
    document.body.append(canvas);
    this.view = { window: opened, canvas };
    this.open.set(true);
    opened.addEventListener('pagehide', () => this.forget());
    return true;
  }

  close(): void {
    this.view?.window.close();
    this.forget();
  }

  /** Draws a frame of the given shape, while the window is there. */
  draw(frame: PictureFrame, width: number, height: number): void {
    if (!this.view) return;
    if (this.view.window.closed) {
      this.forget();
      return;
    }
    const { canvas } = this.view;
    if (canvas.width !== width || canvas.height !== height) Object.assign(canvas, { width, height });
    const context = canvas.getContext('2d');
    if (context) frame.draw(context, width, height);
    canvas.dataset['frame'] = String(frame.time);
  }

  /** Shows nothing, where the picture has not begun yet. */
  clear(): void {
    const canvas = this.view?.canvas;
    canvas?.getContext('2d')?.clearRect(0, 0, canvas.width, canvas.height);
  }

  private forget(): void {
    this.view = undefined;
    this.open.set(false);
  }
}
