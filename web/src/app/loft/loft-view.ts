import { Component } from '@angular/core';

@Component({ selector: 'tc-loft-view', template: '' })
export class LoftView {}
