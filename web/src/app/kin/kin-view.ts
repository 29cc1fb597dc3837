import { Component } from '@angular/core';

@Component({ selector: 'tc-kin-view', template: '' })
export class KinView {}
