import accountChange from "./en/account-change.json";
import account from "./en/account.json";
import actions from "./en/actions.json";
import addresses from "./en/addresses.json";
import afterwards from "./en/afterwards.json";
import answers from "./en/answers.json";
import apply from "./en/apply.json";
import baskets from "./en/baskets.json";
import buttons from "./en/buttons.json";
import cases from "./en/cases.json";
import checkouts from "./en/checkouts.json";
import clashes from "./en/clashes.json";
import conformance from "./en/conformance.json";
import cutover from "./en/cutover.json";
import decide from "./en/decide.json";
import deliver from "./en/deliver.json";
import disconnect from "./en/disconnect.json";
import document from "./en/document.json";
import done from "./en/done.json";
import domainFile from "./en/domain-file.json";
import domain from "./en/domain.json";
import evidence from "./en/evidence.json";
import expressions from "./en/expressions.json";
import findings from "./en/findings.json";
import fit from "./en/fit.json";
import form from "./en/form.json";
import gates from "./en/gates.json";
import gateway from "./en/gateway.json";
import handshake from "./en/handshake.json";
import home from "./en/home.json";
import install from "./en/install.json";
import interlocking from "./en/interlocking.json";
import keys from "./en/keys.json";
import link from "./en/link.json";
import lookUp from "./en/look-up.json";
import look from "./en/look.json";
import names from "./en/names.json";
import oauth from "./en/oauth.json";
import observe from "./en/observe.json";
import offer from "./en/offer.json";
import notices from "./en/notices.json";
import offers from "./en/offers.json";
import offline from "./en/offline.json";
import operations from "./en/operations.json";
import passwords from "./en/passwords.json";
import patterns from "./en/patterns.json";
import people from "./en/people.json";
import plainWords from "./en/plain-words.json";
import play from "./en/play.json";
import proving from "./en/proving.json";
import readProfile from "./en/read-profile.json";
import readVolume from "./en/read-volume.json";
import reading from "./en/reading.json";
import registrations from "./en/registrations.json";
import receipts from "./en/receipts.json";
import repeats from "./en/repeats.json";
import request from "./en/request.json";
import response from "./en/response.json";
import rules from "./en/rules.json";
import run from "./en/run.json";
import signIn from "./en/sign-in.json";
import snapshots from "./en/snapshots.json";
import statement from "./en/statement.json";
import moneyTerms from "./en/money-terms.json";
import storefront from "./en/storefront.json";
import story from "./en/story.json";
import subscriptions from "./en/subscriptions.json";
import takeUp from "./en/take-up.json";
import track from "./en/track.json";
import versionWords from "./en/version-words.json";
import webhook from "./en/webhook.json";
import wire from "./en/wire.json";
import words from "./en/words.json";

/** Every sentence of core and server in English, by subject. */
export default {
  "account-change": accountChange,
  account,
  actions,
  addresses,
  afterwards,
  answers,
  apply,
  baskets,
  buttons,
  cases,
  checkouts,
  clashes,
  conformance,
  cutover,
  decide,
  deliver,
  disconnect,
  document,
  done,
  "domain-file": domainFile,
  domain,
  evidence,
  expressions,
  findings,
  fit,
  form,
  gates,
  gateway,
  handshake,
  home,
  install,
  interlocking,
  keys,
  link,
  "look-up": lookUp,
  look,
  names,
  oauth,
  observe,
  offer,
  notices,
  offers,
  offline,
  operations,
  passwords,
  patterns,
  people,
  "plain-words": plainWords,
  play,
  proving,
  "read-profile": readProfile,
  "read-volume": readVolume,
  reading,
  registrations,
  receipts,
  repeats,
  request,
  response,
  rules,
  run,
  "sign-in": signIn,
  snapshots,
  statement,
  "money-terms": moneyTerms,
  storefront,
  story,
  subscriptions,
  "take-up": takeUp,
  track,
  "version-words": versionWords,
  webhook,
  wire,
  words,
};
