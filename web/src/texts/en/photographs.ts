/** Photographs that belong to something that was seen, and labels read by the camera. */
export default {
  photographs: {
    add: 'Add photographs',
    said: 'JPEG, PNG or WebP, up to 30 MB each. The place and the camera’s data are removed; the time is kept.',
    noSpace:
      'This device has no space left for {name}, so it wasn’t added. Send what waits, or make space, and add it again.',
    leaveOut: 'Remove',
    unread: '{name} can’t be shown here, so it wasn’t added. Take the photograph as JPEG.',
    open: 'Show photograph {i}: {about}',
    taken: 'Taken {when} by the camera’s clock, added by {by}.',
    by: 'Added by {by}; the camera said no time.',
    previous: 'Show previous',
    next: 'Show next',
    close: 'Close photograph',
    remove: 'Remove photograph',
    waiting:
      '{n} photograph waits on this device to be sent. | {n} photographs wait on this device to be sent.',
    removeWith:
      'Remove this entry and its {n} photograph? Photographs can’t be restored. | Remove this entry and its {n} photographs? Photographs can’t be restored.',
    removeEntry: 'Remove entry',
    one: 'photograph {name}',
  },
  scan: {
    start: 'Scan label',
    title: 'Scan a label',
    picture: 'Picture of the camera',
    hold: 'Hold the label’s code in front of the camera.',
    noCamera:
      'The camera can’t be used here. Allow it in the browser’s settings, or type the number that stands on the label.',
    close: 'Stop scanning',
    otherTrial: 'This label belongs to another trial. Nothing was ticked.',
  },
}
