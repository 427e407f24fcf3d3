import { data } from "react-router";
import { t } from "./words/pages/frame";

/** The form of a request; a 400 where what was sent cannot be read as one, such as a form with files that breaks off. */
export async function formOf(request: Request): Promise<FormData> {
  try {
    return await request.formData();
  } catch {
    throw data(t("the-form-is-malformed"), { status: 400 });
  }
}
