/** What failed, read from the reports of Jest and Playwright, so that the end of a long log names it. */

// eslint-disable-next-line no-control-regex -- colours of a terminal are what is taken out
const bare = (text) => (text ?? '').replaceAll(/\u001b\[[0-9;]*m/g, '');
const begin = (text, lines) => bare(text).trim().split('\n').slice(0, lines).join('\n');

/** Names of the failed tests in a report of Jest, each with the first lines of why. */
export function failedInJest(report) {
  return report.testResults.flatMap((file) => {
    const failed = file.assertionResults.filter((test) => test.status === 'failed');
    if (failed.length === 0 && file.status === 'failed') return [`${file.name}\n${begin(file.message, 20)}`];
    return failed.map((test) => `${file.name}: ${test.fullName}\n${begin(test.failureMessages[0], 20)}`);
  });
}

function* testsOf(suite, file = suite.file) {
  for (const spec of suite.specs ?? []) for (const test of spec.tests) yield { file, title: spec.title, test };
  for (const inner of suite.suites ?? []) yield* testsOf(inner, inner.file ?? file);
}

/** Names of the tests of Playwright's report that failed, or passed only when they were tried again, each with the first lines of why. */
export function failedInBrowser(report) {
  return report.suites.flatMap((suite) =>
    [...testsOf(suite)]
      .filter(({ test }) => test.status === 'unexpected' || test.status === 'flaky')
      .map(({ file, title, test }) => {
        const result = test.results.find((one) => one.status !== 'passed');
        const again = test.status === 'flaky' ? ' (passed when tried again)' : '';
        return `${file}: ${title}${again}\n${begin(result?.error?.stack ?? result?.error?.message, 30)}`;
      }),
  );
}
