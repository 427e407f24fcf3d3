import type { Response } from "express";
import type { FieldProblem } from "#core/orders/order";

/** A problem document (RFC 9457). `errors` names the fields, by JSON Pointer. */
export interface ProblemDocument {
  type: string;
  title: string;
  status: number;
  detail: string;
  errors?: FieldProblem[];
}

export const problem = (
  status: number,
  code: string,
  title: string,
  detail: string,
  errors?: FieldProblem[],
): ProblemDocument => ({
  type: `/problems/${code}`,
  title,
  status,
  detail,
  ...(errors && { errors }),
});

export function sendProblem(response: Response, document: ProblemDocument): void {
  response.status(document.status).type("application/problem+json").send(JSON.stringify(document));
}

/** Thrown by the shop API's handlers; answered as its document. */
export class ProblemError extends Error {
  constructor(readonly document: ProblemDocument) {
    super(document.detail);
    this.name = "ProblemError";
  }
}

export const fieldsRefused = (errors: FieldProblem[]) =>
  new ProblemError(
    problem(
      422,
      "fields-refused",
      "Some fields cannot be taken",
      errors.map((one) => `${one.pointer}: ${one.detail}`).join("; "),
      errors,
    ),
  );
