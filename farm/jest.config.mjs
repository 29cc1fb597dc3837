import { nodeJest } from '../scripts/jest-node.mjs';

export default nodeJest('farm');
