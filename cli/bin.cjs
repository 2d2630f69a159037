#!/usr/bin/env node
require('tsx/cjs');
const { main } = require('./main.ts');

main(process.argv.slice(2)).then((code) => { process.exitCode = code; });
