export default 'player.processor.js';
