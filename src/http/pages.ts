import type { Service } from './service.js';

export function addPages(_: Service): void {
  // The page for trying forms.
}
