import { Injectable } from '@angular/core';
import type { ActivatedRouteSnapshot } from '@angular/router';
import { BaseRouteReuseStrategy } from '@angular/router';

/** Another project gets a frame of its own: with the frame ends everything that belongs to an open project. */
@Injectable()
export class FrameOfItsProject extends BaseRouteReuseStrategy {
  override shouldReuseRoute(future: ActivatedRouteSnapshot, current: ActivatedRouteSnapshot): boolean {
    return super.shouldReuseRoute(future, current) && future.params['id'] === current.params['id'];
  }
}
