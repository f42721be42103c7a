// What failed, from the runners' own reports, so that `npm test` can say it once more at its end.

const colours = new RegExp(`${String.fromCharCode(27)}\\[[0-9;]*m`, 'g');
/** The first lines of an error, without colours. */
const firstLines = (message) =>
  String(message ?? 'no message')
    .replace(colours, '')
    .split('\n')
    .slice(0, 12)
    .join('\n');

/** Failed tests of a report of Jest: a name and the beginning of the error of each. */
export function failedInJest({ testResults }) {
  return testResults.flatMap(({ name, status, message, assertionResults }) => {
    const failed = assertionResults.filter((a) => a.status === 'failed');
    if (status === 'failed' && failed.length === 0) return [{ name, why: firstLines(message) }];
    return failed.map((a) => ({ name: `${name}: ${a.fullName}`, why: firstLines(a.failureMessages[0]) }));
  });
}

/** Failed tests of a report of Playwright: a name and the beginning of the error of each, and errors that belong to no test. */
export function failedInPlaywright({ suites, errors = [] }) {
  const specsOf = (suite) => [...(suite.specs ?? []), ...(suite.suites ?? []).flatMap(specsOf)];
  const failed = suites.flatMap(specsOf).filter((spec) => !spec.ok);
  return [
    ...failed.map((spec) => ({
      name: `${spec.file}:${spec.line}: ${spec.title}`,
      why: firstLines(spec.tests.flatMap((t) => t.results).find((r) => r.error)?.error.message),
    })),
    ...errors.map((error) => ({ name: 'Playwright', why: firstLines(error.message) })),
  ];
}
