/** Tell. */
export default {
  tell: {
    title: 'Reports',
    page: 'Grower’s page',
    pageLead: 'PDF, one page: the verdicts in words, the plot map, and the doubts that matter.',
    package: 'Data package',
    packageLead: 'ZIP: the values as CSV, a description of every column, the results and the plan. A trial in blocks can be imported again with its plots, values and margins. Season, place and answers to doubts are not imported.',
    says: 'Text of the page',
    doubts: 'What a careful colleague would ask',
    moreDoubts: '{n} more doubt is in the full analysis. | {n} more doubts are in the full analysis.',
  },
} // prettier-ignore
