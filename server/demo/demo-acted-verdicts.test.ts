import { DEMO_TAKES, testVerdicts } from '../testing/demo-table';

testVerdicts(DEMO_TAKES.filter((t) => t.take.act));
