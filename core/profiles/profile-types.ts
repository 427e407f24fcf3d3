// Made from profile.schema.json by node scripts/profile-types.mjs; change the schema, not this file.
/**
 * How money moves with a method.
 */
export type MethodKind =
  "card" | "account-wallet" | "code-wallet" | "device-wallet" | "instalments" | "direct-debit";
/**
 * Who decides that the shopper must prove who they are.
 */
export type AuthenticationPolicy = "issuer" | "always" | "exemption";
export type Address = string;
/**
 * A regular expression.
 */
export type Regexp = string;
/**
 * How a request shows whose it is. “secret”, “user” and “client” are ids of fields.
 */
export type Authentication =
  | {
      scheme: "bearer";
      secret: string;
      /**
       * Further header fields of every request: name to JSONata over the input and the fields.
       */
      headers?: {
        [k: string]: Expression;
      };
    }
  | {
      scheme: "basic";
      user: string;
      secret: string;
      /**
       * Further header fields of every request: name to JSONata over the input and the fields.
       */
      headers?: {
        [k: string]: Expression;
      };
    }
  | {
      scheme: "header";
      header: string;
      secret: string;
      /**
       * Further header fields of every request: name to JSONata over the input and the fields.
       */
      headers?: {
        [k: string]: Expression;
      };
    }
  | {
      scheme: "oauth2-client-credentials";
      client: string;
      secret: string;
      scope?: string;
      /**
       * Further header fields of every request: name to JSONata over the input and the fields.
       */
      headers?: {
        [k: string]: Expression;
      };
    }
  | {
      scheme: "keyed-digest";
      secret: string;
      digest: DigestSpec;
      into: string;
      /**
       * Further header fields of every request: name to JSONata over the input and the fields.
       */
      headers?: {
        [k: string]: Expression;
      };
    };
/**
 * A JSONata expression over its input alone. Functions of its own, ranges, regular expressions and searches at every depth are not taken.
 */
export type Expression = string;
/**
 * What went wrong at a provider, in our words.
 */
export type ProblemKind =
  | "key-missing"
  | "key-refused"
  | "key-of-other-mode"
  | "key-of-other-account"
  | "access-withdrawn"
  | "not-permitted"
  | "not-found"
  | "currency-unknown"
  | "amount-too-small"
  | "amount-too-large"
  | "beyond-authorised"
  | "beyond-captured"
  | "wrong-state"
  | "token-refused"
  | "kept-gone"
  | "account-closed"
  | "malformed"
  | "refused"
  | "too-many-requests"
  | "provider-fault";
/**
 * Where a payment stands, in our words. To-confirm: it is prepared, and nothing is held or taken before the operation confirm. Verified: it was for nothing, and what it would be paid with is good.
 */
export type ReadingKind =
  | "pending"
  | "to-confirm"
  | "authorised"
  | "captured"
  | "verified"
  | "voided"
  | "declined"
  | "failed"
  | "expired"
  | "cancelled"
  | "refunded"
  | "disputed";
/**
 * Why a payment was declined, in our words.
 */
export type DeclineReason =
  | "insufficient-funds"
  | "expired-card"
  | "wrong-code"
  | "suspected-fraud"
  | "do-not-honour"
  | "authentication-failed"
  | "unspecified";
/**
 * Where a capture, a release or a refund stands, in our words.
 */
export type MovementState = "requested" | "pending" | "succeeded" | "failed";
/**
 * Where a dispute stands, in our words.
 */
export type DisputeState = "open" | "answered" | "lost" | "won";
/**
 * What came of it: nobody was asked; it was done without, as asked; the issuer could not ask; the shopper did not prove it; the shopper did.
 */
export type AuthenticationResult = "not-asked" | "exempt" | "attempted" | "failed" | "passed";
/**
 * Where a check for fraud stands, in our words.
 */
export type FraudReviewState = "open" | "passed" | "refused";
/**
 * Where a payout stands.
 */
export type PayoutState = "announced" | "paid" | "failed";
/**
 * What an entry of a payout is.
 */
export type EntryKind = "payment" | "refund" | "dispute" | "fee" | "other";
/**
 * How far a provider's review of the account has come.
 */
export type AccountState = "applied" | "in-review" | "approved" | "declined" | "restricted";
/**
 * What can be asked of a provider.
 */
export type OperationName =
  | "account"
  | "fieldCheck"
  | "create"
  | "confirm"
  | "read"
  | "find"
  | "capture"
  | "void"
  | "release"
  | "refund"
  | "answerDispute"
  | "acceptDispute"
  | "decideReview"
  | "quote"
  | "forget"
  | "list"
  | "listPayouts"
  | "readPayout"
  | "listDisputes"
  | "registerWebhook"
  | "listWebhooks"
  | "removeWebhook"
  | "pingWebhook"
  | "checkDomain"
  | "linkedKeys"
  | "requestToken"
  | "readToken"
  | "dropToken"
  | "openSession"
  | "readSession"
  | "actInSession"
  | "actForShopper";
/**
 * How messages are signed.
 */
export type Signing =
  | {
      scheme: "standard-webhooks";
      /**
       * Seconds by which a message's own time may differ from ours, before and after.
       */
      toleranceSeconds: number;
      secret?: string;
    }
  | {
      scheme: "http-message-signature";
      /**
       * Seconds by which a message's own time may differ from ours, before and after.
       */
      toleranceSeconds: number;
      algorithm: "ed25519" | "hmac-sha256";
      key: string;
      /**
       * What must be covered, by the names of RFC 9421.
       *
       * @minItems 1
       * @maxItems 20
       */
      components: string[];
      idHeader: string;
    }
  | {
      scheme: "detached-jws";
      /**
       * Seconds by which a message's own time may differ from ours, before and after.
       */
      toleranceSeconds: number;
      header: string;
      /**
       * @minItems 1
       * @maxItems 4
       */
      algorithms: ("ES256" | "EdDSA" | "RS256" | "PS256")[];
    }
  | {
      scheme: "keyed-digest";
      /**
       * Seconds by which a message's own time may differ from ours, before and after.
       */
      toleranceSeconds: number;
      secret: string;
      digest: DigestSpec;
      /**
       * The field that holds the digest; it is left out of “sorted”.
       */
      from: string;
      /**
       * The field that holds the message's id.
       */
      id: string;
      /**
       * The field that holds its time: ISO 8601, or seconds or milliseconds since 1970.
       */
      time: string;
    };
/**
 * What a message is about.
 */
export type EventKind = "payment" | "refund" | "dispute" | "ping" | "account" | "payout" | "kept";
/**
 * What happens in the shopper's browser: a frame for cards, a redirect, a code to scan, or a device that rides along.
 */
export type ProfileBrowser =
  | {
      kind: "frame";
      /**
       * The frame's address. {field}, {origin} and {language} are replaced.
       */
      address: {
        test: Address;
        live: Address;
      };
      /**
       * The message that brings a one-time token out of the frame: what it must hold, and under which name the token stands.
       */
      message: {
        match: {
          [k: string]: string;
        };
        token: string;
      };
      /**
       * The message that has the frame fill itself in with a test instrument, where it takes one: what it holds, and under which name the values stand, by the names of the instrument's own entries. Sent in test only.
       */
      fill?: {
        message: {
          [k: string]: string;
        };
        values: string;
      };
    }
  | {
      kind: "redirect";
      /**
       * Whether a shopper who was refused may try again on the provider's page, so that a payment that is declined can still be paid. Since version 2.
       */
      retries?: boolean;
    }
  | {
      kind: "code";
    }
  | {
      kind: "device";
    };

/**
 * The document that teaches Zahlung one provider.
 */
export interface Profile {
  /**
   * The version of this schema. Documents of version 1 are read as ever; what was added since needs 2.
   */
  schema: 1 | 2;
  /**
   * The provider's name for programs; it never changes.
   */
  id: string;
  /**
   * Three numbers; raise them with every change.
   */
  version: string;
  /**
   * As people know it.
   */
  name: string;
  /**
   * What it is, in a sentence or two.
   */
  about: string;
  /**
   * Where its merchants may be registered: ISO 3166-1.
   *
   * @minItems 1
   * @maxItems 260
   */
  merchantCountries: string[];
  /**
   * The ways to pay that it offers.
   *
   * @minItems 1
   * @maxItems 20
   */
  methods: ProfileMethod[];
  /**
   * Kinds of method that only one connection may serve on one storefront in one currency.
   *
   * @maxItems 6
   */
  sole: MethodKind[];
  ridesOn?: MethodKind;
  /**
   * Modes in which the shop must be reached by https.
   *
   * @maxItems 2
   */
  needsHttps: ("test" | "live")[];
  fees: FeeSchedule;
  /**
   * Where the money lands, and when.
   */
  payout: {
    to: "bank-account" | "balance";
    /**
     * Days until money is there.
     */
    days: number;
    says: string;
  };
  /**
   * What to have at hand before starting.
   *
   * @maxItems 20
   */
  atHand: string[];
  /**
   * How amounts are written on the wire: whole minor units, or decimal text with the currency's own decimals.
   */
  amounts: "minor" | "decimal";
  /**
   * Currencies that the provider counts with other decimals than ISO 4217, and with how many. Since version 2.
   */
  exponents?: {
    [k: string]: number;
  };
  /**
   * How bodies are written.
   */
  format: {
    request: "json" | "form";
    response: "json" | "form";
  };
  /**
   * What the provider issues and the administrator carries across.
   *
   * @minItems 1
   * @maxItems 12
   */
  fields: ProfileField[];
  /**
   * The sandbox and the live side.
   */
  modes: {
    test: ProfileSide;
    live: ProfileSide;
  };
  authentication: Authentication;
  link?: ProfileLink;
  /**
   * What can be asked of it.
   */
  operations: {
    account: ProfileOperation;
    fieldCheck?: ProfileOperation;
    create?: ProfileOperation;
    confirm?: ProfileOperation;
    read?: ProfileOperation;
    find?: ProfileOperation;
    capture?: ProfileOperation;
    void?: ProfileOperation;
    release?: ProfileOperation;
    refund?: ProfileOperation;
    answerDispute?: ProfileOperation;
    acceptDispute?: ProfileOperation;
    decideReview?: ProfileOperation;
    quote?: ProfileOperation;
    forget?: ProfileOperation;
    list?: ProfileOperation;
    listPayouts?: ProfileOperation;
    readPayout?: ProfileOperation;
    listDisputes?: ProfileOperation;
    registerWebhook?: ProfileOperation;
    listWebhooks?: ProfileOperation;
    removeWebhook?: ProfileOperation;
    pingWebhook?: ProfileOperation;
    checkDomain?: ProfileOperation;
    linkedKeys?: ProfileOperation;
    requestToken?: ProfileOperation;
    readToken?: ProfileOperation;
    dropToken?: ProfileOperation;
    openSession?: ProfileOperation;
    readSession?: ProfileOperation;
    actInSession?: ProfileOperation;
    actForShopper?: ProfileOperation;
  };
  payment?: Expression;
  /**
   * How a refusal is read.
   */
  problem: {
    when?: Expression;
    code: Expression;
    text: Expression;
  };
  /**
   * The field that a code points at, where it is not the key itself.
   */
  blames: {
    [k: string]: string;
  };
  /**
   * The provider's codes for what was wrong, in ours.
   */
  problems: {
    [k: string]: ProblemKind;
  };
  /**
   * The provider's words for where a payment stands, in ours.
   */
  statuses: {
    [k: string]: ReadingKind;
  };
  /**
   * The provider's codes for a decline, in ours.
   */
  declines: {
    [k: string]: DeclineReason;
  };
  /**
   * The provider's words for where a capture, a release or a refund stands, in ours. Needed where `payment` gives lists of them.
   */
  movements?: {
    [k: string]: MovementState;
  };
  /**
   * The provider's words for where a dispute stands, in ours.
   */
  disputes?: {
    [k: string]: DisputeState;
  };
  /**
   * The provider's words for what came of asking who the shopper is, in ours. Since version 2.
   */
  authentications?: {
    [k: string]: AuthenticationResult;
  };
  /**
   * The provider's words for where its check for fraud stands, in ours.
   */
  reviews?: {
    [k: string]: FraudReviewState;
  };
  /**
   * The provider's words for where a payout stands, in ours. Needed with listPayouts. Since version 2.
   */
  payouts?: {
    [k: string]: PayoutState;
  };
  /**
   * The provider's words for what an entry of a payout is, in ours; what is not listed is an `other`. Since version 2.
   */
  entries?: {
    [k: string]: EntryKind;
  };
  /**
   * The review of the account.
   */
  review?: {
    /**
     * How one applies for an account.
     */
    apply: string;
    /**
     * The provider's words for its review, in ours.
     */
    states: {
      [k: string]: AccountState;
    };
    /**
     * What can be done before it is approved.
     */
    meanwhile: string;
  };
  /**
   * What a wallet asks while a shopper chooses an address, and what it is answered. Needed with openSession. Since version 2.
   */
  sessions?: {
    asked: Expression;
    told: Expression;
  };
  /**
   * Rights that a key may lack, each tried.
   *
   * @maxItems 10
   */
  rights: ProfileRight[];
  webhooks?: ProfileWebhooks;
  file?: ProfileFile;
  /**
   * In which languages its own pages and frames speak to shoppers (BCP 47), the one for all others first; it is told the nearest. Left out: it is told the shopper's own. Since version 2.
   *
   * @maxItems 100
   */
  locales?: string[];
  browser: ProfileBrowser;
  /**
   * Test instruments.
   *
   * @maxItems 40
   */
  instruments: ProfileInstrument[];
  /**
   * What the sandbox can play of what otherwise banks, shoppers and time do: for each, what actForShopper says. Since version 2.
   */
  plays?: {
    /**
     * What is held ends by itself.
     */
    "authorisation-ends"?: string;
    /**
     * The card holder disputes what was taken.
     */
    "dispute-opens"?: string;
    /**
     * The dispute is decided for the shop.
     */
    "dispute-won"?: string;
    /**
     * The dispute is decided for the card holder.
     */
    "dispute-lost"?: string;
    /**
     * Nobody pays in time, and the payment ends at the provider.
     */
    "payment-ends"?: string;
    /**
     * The shopper turns back on the provider's page.
     */
    "shopper-leaves"?: string;
  };
}
export interface ProfileMethod {
  /**
   * Its name in this profile.
   */
  id: string;
  kind: MethodKind;
  /**
   * As the provider calls it.
   */
  name: string;
  /**
   * What shoppers call it, for searching.
   *
   * @maxItems 30
   */
  synonyms: string[];
  /**
   * Card networks.
   *
   * @maxItems 30
   */
  networks: string[];
  /**
   * Ids of other profiles whose wallet shoppers find on this method's own page or frame, so that it can be had by two roads.
   *
   * @maxItems 30
   */
  carries: string[];
  /**
   * Ids of other profiles that ride along: create takes the one-time tokens of these device wallets.
   *
   * @maxItems 30
   */
  takes?: string[];
  /**
   * What it charges: ISO 4217.
   *
   * @minItems 1
   * @maxItems 200
   */
  currencies: string[];
  /**
   * Whose shoppers can use it: ISO 3166-1; empty: any.
   *
   * @maxItems 260
   */
  shopperCountries: string[];
  minimum: MinorByCurrency;
  maximum: MinorByCurrency;
  /**
   * When money may be taken.
   *
   * @minItems 1
   * @maxItems 2
   */
  capture: ("at-once" | "later")[];
  /**
   * Who decides that the shopper must prove who they are: the issuer; always; or the issuer, who is asked to do without (an exemption). Empty: it is never asked apart.
   *
   * @maxItems 3
   */
  authentication: AuthenticationPolicy[];
  /**
   * What of an order it cannot do without, beside the total: its lines, the shopper's e-mail address, where it goes and from where it is paid, who the shopper is at the shop. Since version 2.
   *
   * @maxItems 4
   */
  needs?: ("lines" | "email" | "address" | "shopper")[];
  /**
   * What the provider takes of a text for the shopper's statement, where that is less than is usual (5 to 22 of the letters A to Z, digits, space and . , & / -). Since version 2.
   */
  statement?: {
    /**
     * Letters at most.
     */
    most?: number;
    /**
     * Every letter that it may hold.
     */
    letters?: string;
  };
  partialCapture: boolean;
  /**
   * Whether more can be taken later of what is held, after a part was. Since version 2.
   */
  severalCaptures?: boolean;
  /**
   * Whether it keeps what was paid with for the next time, where the shopper wants that. Since version 2.
   */
  keeps?: boolean;
  /**
   * That shops may show it as a button that pays at once, and how that may look. Needs openSession, readSession and sessions. Since version 2.
   */
  button?: {
    /**
     * What may stand on it: “Buy with …”, “Pay with …”, or the name alone.
     *
     * @minItems 1
     * @maxItems 3
     */
    labels: ("buy" | "pay" | "name")[];
    /**
     * How its corners may be.
     *
     * @minItems 1
     * @maxItems 3
     */
    shapes: ("square" | "soft" | "round")[];
    /**
     * In which colours it may be.
     *
     * @minItems 1
     * @maxItems 10
     */
    colours: {
      /**
       * Its name in settings.
       */
      id: string;
      /**
       * What people choose it by.
       */
      label: string;
      /**
       * What is behind the words.
       */
      ground: string;
      /**
       * The words themselves.
       */
      ink: string;
    }[];
  };
  /**
   * Whether what it keeps can be charged again by the shop, without the shopper being there, once they have agreed to that. Since version 2.
   */
  repeats?: boolean;
  /**
   * Whether money that is to be captured at once is taken by a call of its own: what create or confirm bring is only held, and capture follows as soon as it is. Wants capture, and both ways to capture. Since version 2.
   */
  capturedByCall?: boolean;
  /**
   * Whether it takes a payment of nothing, by which a shopper agrees to be charged later and shows that what they pay with is good: for a trial that costs nothing. Wants repeats, and a status that reads as verified. Since version 2.
   */
  verifies?: boolean;
  void: boolean;
  refund: boolean;
  partialRefund: boolean;
  /**
   * How long a payment that is pending lives, and whom it waits for; left out: as long as its checkout. Since version 2.
   */
  pending?: {
    /**
     * Seconds that a payment may wait before it is let go of.
     */
    lives: number;
    /**
     * Who has to do something: a payment that waits for the provider outlives its checkout.
     */
    waitsFor: "shopper" | "provider";
  };
}
export interface MinorByCurrency {
  [k: string]: number;
}
/**
 * What it costs.
 */
export interface FeeSchedule {
  monthly: MinorByCurrency;
  oneOff: MinorByCurrency;
  /**
   * @maxItems 20
   */
  methods: MethodFees[];
}
export interface MethodFees {
  /**
   * The id of the method.
   */
  method: string;
  /**
   * Percent of the order's total.
   */
  percent: number;
  fixed: MinorByCurrency;
  minimum: MinorByCurrency;
  cap: MinorByCurrency;
  foreign: Rate;
  /**
   * Percent added when the account settles in another currency.
   */
  conversion: number;
  /**
   * Rates that hold from a volume on.
   *
   * @maxItems 10
   */
  tiers: {
    from: MinorByCurrency;
    /**
     * Percent of the order's total.
     */
    percent: number;
    fixed: MinorByCurrency;
  }[];
  refund: MinorByCurrency;
  /**
   * Whether a full refund brings the payment's own fee back: its percentage and fixed part. Surcharges for foreign cards and conversion stay.
   */
  refundReturnsFee: boolean;
  dispute: MinorByCurrency;
}
/**
 * A share of the amount in percent and a sum in minor units by currency.
 */
export interface Rate {
  /**
   * Percent of the order's total.
   */
  percent: number;
  fixed: MinorByCurrency;
}
export interface ProfileField {
  /**
   * Its name in this profile; expressions see the value under it.
   */
  id: string;
  /**
   * In the provider's own words.
   */
  label: string;
  /**
   * Where it stands over there.
   */
  where: string;
  /**
   * The page it stands on.
   */
  place?: {
    test: Address;
    live: Address;
  };
  /**
   * Whether it is kept sealed and shown only by its last four characters.
   */
  secret: boolean;
  /**
   * Whether the provider shows it only once.
   */
  shownOnce: boolean;
  /**
   * What it looks like on each side.
   */
  pattern: {
    test: Regexp;
    live: Regexp;
  };
  /**
   * Other values that are easily taken for it, and what to say of them.
   *
   * @maxItems 10
   */
  lookalikes: {
    pattern: Regexp;
    says: string;
  }[];
  /**
   * Whether a call proves it, or only a signed message can.
   */
  provenBy: "call" | "webhook";
}
export interface ProfileSide {
  api: Address;
  dashboard: Address;
  token?: Address;
  jwks?: Address;
  authorize?: Address;
  /**
   * The page of one payment in that dashboard; {ref} stands for the provider's own number, {reference} for ours. Since version 2.
   */
  paymentPage?: string;
  /**
   * Other hosts that shoppers are sent to, such as those of issuers that ask. A shopper is sent to no host that a profile does not name. Since version 2.
   *
   * @maxItems 30
   */
  origins?: string[];
}
/**
 * How a keyed digest over named fields is made.
 */
export interface DigestSpec {
  /**
   * The keyed hash (RFC 2104).
   */
  algorithm: "hmac-sha256" | "hmac-sha512";
  /**
   * “sorted” takes every field by name in order of code points; a list takes just these, in this order.
   */
  fields: "sorted" | string[];
  /**
   * Whether each is written as its value or as name=value.
   */
  write: "values" | "pairs";
  /**
   * What stands between them.
   */
  join: string;
  /**
   * How the digest is written.
   */
  encoding: "hex" | "base64" | "base64url";
}
/**
 * Linking an account by authorisation code with PKCE (RFC 6749, RFC 7636).
 */
export interface ProfileLink {
  /**
   * The client id that the provider knows Zahlung by.
   */
  client: string;
  /**
   * What is asked for.
   */
  scope: string;
  /**
   * Error codes of the provider, in words.
   */
  denied: {
    [k: string]: string;
  };
}
export interface ProfileOperation {
  request: ProfileRequest;
  response: Expression;
  /**
   * That a good answer of this operation is a file, and not as `format.response` says: csv (RFC 4180) or xml, such as a statement of ISO 20022. Its rows become {rows: […]}, a few hundred at a time: the lists that the expression makes of them are put together. A row of csv is {column: text}; one of xml is an element by the names of its elements and attributes, without prefixes, its own text as `text` where it has attributes. Since version 2.
   */
  answers?: "csv" | "xml";
  /**
   * Of an xml file: the names of the elements that lead to its rows, from the root. Since version 2.
   */
  rows?: string;
  paging?: ProfilePaging;
  /**
   * Whether the provider recognises a repetition by the idempotency key.
   */
  idempotent?: boolean;
  /**
   * Ids of the fields that a good answer proves.
   *
   * @maxItems 10
   */
  proves?: string[];
  /**
   * The modes that have this operation; left out: both.
   *
   * @maxItems 2
   */
  modes?: ("test" | "live")[];
}
export interface ProfileRequest {
  method: "GET" | "POST" | "PUT" | "PATCH" | "DELETE";
  /**
   * After the side's api address. {name} is replaced by an input or a field, encoded.
   */
  path: string;
  /**
   * Header fields: name to JSONata over the input and the fields.
   */
  headers?: {
    [k: string]: Expression;
  };
  body?: Expression;
}
/**
 * How a list goes on, where its answer does not say it as next: of listPayouts, readPayout and listDisputes. Since version 2.
 */
export interface ProfilePaging {
  /**
   * offset: after is how many came so far, and a page that is shorter than size is the last. link: the answer's Link header leads to the next page (RFC 8288, relation next), within the side's own address.
   */
  by: "offset" | "link";
  /**
   * How many stand on a full page. Needed with offset, and only there.
   */
  size?: number;
}
export interface ProfileRight {
  id: string;
  /**
   * The right.
   */
  label: string;
  /**
   * What is lost without it.
   */
  why: string;
  operation: OperationName;
  /**
   * Input for a question that does no harm. Only “not-permitted” counts as lacking the right.
   */
  with: {
    [k: string]: string | number;
  };
}
export interface ProfileWebhooks {
  signing: Signing;
  /**
   * How a message's body is written.
   */
  format: "json" | "form";
  /**
   * The steps to make our address known by hand.
   *
   * @maxItems 12
   */
  byHand: string[];
  /**
   * The page where that is done.
   */
  place?: {
    test: Address;
    live: Address;
  };
  /**
   * The events to ask for.
   *
   * @maxItems 60
   */
  events: string[];
  kind: Expression;
  /**
   * Kind to what it is about: a payment, a payout, a test message, the account; since version 2 also a refund or a dispute by itself, or something that a shopper has kept.
   */
  kinds: {
    [k: string]: EventKind;
  };
  /**
   * Outcomes of which no message is sent, so that no case waits for one: they are known by the answer or by a look-up. Since version 2.
   *
   * @maxItems 10
   */
  silent?: ReadingKind[];
  at: Expression;
  payment: Expression;
  refund?: Expression;
  dispute?: Expression;
  kept?: Expression;
}
/**
 * A file that proves the shop's domain.
 */
export interface ProfileFile {
  /**
   * What the file is called.
   */
  name: string;
  /**
   * Where it stands on the shop's domain (RFC 8615).
   */
  path: {
    test: string;
    live: string;
  };
  /**
   * What its text looks like.
   */
  pattern: {
    test: Regexp;
    live: Regexp;
  };
  where: string;
  place?: {
    test: Address;
    live: Address;
  };
}
export interface ProfileInstrument {
  /**
   * The case it plays, such as approved or insufficient-funds. Cases of their own: refused-on-device, refund-waits, refund-fails, late-approval.
   */
  case: string;
  label: string;
  outcome: string;
  /**
   * @maxItems 8
   */
  type: {
    label: string;
    value: string;
    /**
     * What the provider's frame calls it, where it can be filled in.
     */
    name?: string;
  }[];
  /**
   * What goes in as the token.
   */
  token?: string;
  /**
   * What actForShopper says for a shopper who goes on.
   */
  answer?: string;
  /**
   * What it says for one who fails to.
   */
  fail?: string;
}

export const authenticationPolicys: readonly AuthenticationPolicy[] = ["issuer", "always", "exemption"];
export const authenticationResults: readonly AuthenticationResult[] = [
  "not-asked",
  "exempt",
  "attempted",
  "failed",
  "passed",
];
export const methodKinds: readonly MethodKind[] = [
  "card",
  "account-wallet",
  "code-wallet",
  "device-wallet",
  "instalments",
  "direct-debit",
];
export const operationNames: readonly OperationName[] = [
  "account",
  "fieldCheck",
  "create",
  "confirm",
  "read",
  "find",
  "capture",
  "void",
  "release",
  "refund",
  "answerDispute",
  "acceptDispute",
  "decideReview",
  "quote",
  "forget",
  "list",
  "listPayouts",
  "readPayout",
  "listDisputes",
  "registerWebhook",
  "listWebhooks",
  "removeWebhook",
  "pingWebhook",
  "checkDomain",
  "linkedKeys",
  "requestToken",
  "readToken",
  "dropToken",
  "openSession",
  "readSession",
  "actInSession",
  "actForShopper",
];
export const problemKinds: readonly ProblemKind[] = [
  "key-missing",
  "key-refused",
  "key-of-other-mode",
  "key-of-other-account",
  "access-withdrawn",
  "not-permitted",
  "not-found",
  "currency-unknown",
  "amount-too-small",
  "amount-too-large",
  "beyond-authorised",
  "beyond-captured",
  "wrong-state",
  "token-refused",
  "kept-gone",
  "account-closed",
  "malformed",
  "refused",
  "too-many-requests",
  "provider-fault",
];
export const readingKinds: readonly ReadingKind[] = [
  "pending",
  "to-confirm",
  "authorised",
  "captured",
  "verified",
  "voided",
  "declined",
  "failed",
  "expired",
  "cancelled",
  "refunded",
  "disputed",
];
export const movementStates: readonly MovementState[] = ["requested", "pending", "succeeded", "failed"];
export const disputeStates: readonly DisputeState[] = ["open", "answered", "lost", "won"];
export const fraudReviewStates: readonly FraudReviewState[] = ["open", "passed", "refused"];
export const accountStates: readonly AccountState[] = [
  "applied",
  "in-review",
  "approved",
  "declined",
  "restricted",
];
export const eventKinds: readonly EventKind[] = [
  "payment",
  "refund",
  "dispute",
  "ping",
  "account",
  "payout",
  "kept",
];
export const declineReasons: readonly DeclineReason[] = [
  "insufficient-funds",
  "expired-card",
  "wrong-code",
  "suspected-fraud",
  "do-not-honour",
  "authentication-failed",
  "unspecified",
];
export const payoutStates: readonly PayoutState[] = ["announced", "paid", "failed"];
export const entryKinds: readonly EntryKind[] = ["payment", "refund", "dispute", "fee", "other"];
