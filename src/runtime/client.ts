export * from '../client.js';
