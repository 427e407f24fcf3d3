import { data } from "react-router";

/** The form of a request; a 400 where what was sent cannot be read as one, such as a form with files that breaks off. */
export async function formOf(request: Request): Promise<FormData> {
  try {
    return await request.formData();
  } catch {
    throw data("The form is malformed.", { status: 400 });
  }
}
