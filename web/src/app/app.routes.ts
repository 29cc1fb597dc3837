import type { Routes } from '@angular/router';

export const routes: Routes = [
  { path: '', pathMatch: 'full', loadComponent: () => import('./projects/projects-page').then((file) => file.ProjectsPage) },
  { path: 'demo', loadComponent: () => import('./projects/demo-page').then((file) => file.DemoPage) },
  {
    path: 'project/:id',
    loadComponent: () => import('./frame/project-frame').then((file) => file.ProjectFrame),
    children: [
      { path: 'gather', loadComponent: () => import('./gather/gather-view').then((file) => file.GatherView) },
      { path: 'loft', loadComponent: () => import('./loft/loft-view').then((file) => file.LoftView) },
      { path: 'kin', loadComponent: () => import('./kin/kin-view').then((file) => file.KinView) },
      { path: 'conduct', loadComponent: () => import('./conduct/conduct-view').then((file) => file.ConductView) },
      { path: 'hand-off', loadComponent: () => import('./hand-off/hand-off-view').then((file) => file.HandOffView) },
      { path: '**', redirectTo: 'loft' },
    ],
  },
  { path: '**', redirectTo: '' },
];
