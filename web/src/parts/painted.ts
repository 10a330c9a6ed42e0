/**
 * Once what was just changed can be seen: the frame that shows it has been drawn when the one after it is begun. A page
 * that isn’t looked at draws none, and is waited for shortly.
 */
export const painted = () =>
  new Promise<void>((done) => {
    requestAnimationFrame(() => requestAnimationFrame(() => setTimeout(done)))
    setTimeout(done, 150)
  })
