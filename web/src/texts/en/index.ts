/** Every word of the interface that isn't made by the server, a file for each part of the house. */
import ask from './ask'
import bring from './bring'
import calendar from './calendar'
import help from './help'
import kill from './kill'
import layout from './layout'
import log from './log'
import own from './own'
import photographs from './photographs'
import plan from './plan'
import read from './read'
import season from './season'
import shell from './shell'
import sow from './sow'
import species from './species'
import stages from './stages'
import tell from './tell'
import weather from './weather'

export default {
  ...ask,
  ...bring,
  ...calendar,
  ...help,
  ...kill,
  ...layout,
  ...log,
  ...own,
  ...photographs,
  ...plan,
  ...read,
  ...season,
  ...shell,
  ...sow,
  ...species,
  ...stages,
  ...tell,
  ...weather,
}
