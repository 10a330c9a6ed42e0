/** Calendar feeds and the day’s list. */
export default {
  calendar: {
    open: 'Open calendar address',
    title: 'Calendar address',
    lead: 'Add this address to your calendar program as a subscription. It shows what is due, and follows when dates move. Whoever has the address can read it.',
    all: 'All trials',
    one: 'Only {name}',
    address: 'Private address',
    copy: 'Copy address',
    copied: 'The address is copied.',
    make: 'Add calendar address',
    remove: 'Remove address',
    close: 'Close',
  },
  dayList: {
    title: 'List of the day',
    open: 'Open list of the day',
    back: 'Today',
    day: 'Day',
    print: 'Print list',
    for: 'To do on {day}',
    nothing: 'Nothing is due on this day or overdue by then.',
    since: 'due since {day}',
  },
}
