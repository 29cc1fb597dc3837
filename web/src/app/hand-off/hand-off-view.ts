import { Component } from '@angular/core';

@Component({ selector: 'tc-hand-off-view', template: '' })
export class HandOffView {}
