/** Tell. */
export default {
  tell: {
    title: 'Tell',
    page: 'The grower’s page',
    pageLead: 'PDF, one side: verdicts in words, the map, the doubts that matter.',
    package: 'The data package',
    packageLead: 'ZIP: figures as CSV, every column described, the reading and the plan. It can be brought back.',
    says: 'What the page says',
    doubts: 'What a good colleague would say',
  },
} // prettier-ignore
