/** Tell. */
export default {
  tell: {
    title: 'Tell',
    page: 'The grower’s page',
    pageLead: 'PDF, one side: verdicts in words, the map, the doubts that matter.',
    package: 'The data package',
    packageLead: 'ZIP: values as CSV, every column described, the results and the plan. A trial in blocks can be imported again with its plots, values and margins; season, place and answers to doubts are not imported.',
    says: 'What the page says',
    doubts: 'What a good colleague would say',
    moreDoubts: '{n} further doubt stands in the full reading. | {n} further doubts stand in the full reading.',
  },
} // prettier-ignore
