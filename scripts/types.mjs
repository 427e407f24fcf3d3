// Checks all types, and what types alone let through: something said that is made into a text too early.
import { join, relative } from "node:path";
import { fileURLToPath } from "node:url";
import ts from "typescript";

const root = join(fileURLToPath(import.meta.url), "../..");

/**
 * Places where something said is made into a text before it has become its sentence: in a template, by `join`, or
 * compared with `===`. The compiler lets these through.
 */
function saidAsText(program) {
  const checker = program.getTypeChecker();
  const isSaid = (type) => {
    if (type.isUnion()) return type.types.some(isSaid);
    if (checker.isArrayType(type)) return isSaid(checker.getTypeArguments(type)[0]);
    return (
      type.getProperty("code") !== undefined && type.getProperty("values")?.flags === ts.SymbolFlags.Property
    );
  };
  const tells = (node) => isSaid(checker.getTypeAtLocation(node));
  const found = [];
  const see = (node) => {
    const operator = ts.isBinaryExpression(node) ? node.operatorToken.kind : null;
    const wrong =
      (ts.isTemplateSpan(node) && tells(node.expression)) ||
      (ts.isCallExpression(node) &&
        ts.isPropertyAccessExpression(node.expression) &&
        node.expression.name.text === "join" &&
        tells(node.expression.expression)) ||
      (operator === ts.SyntaxKind.EqualsEqualsEqualsToken &&
        node.right.kind !== ts.SyntaxKind.NullKeyword &&
        node.right.getText() !== "undefined" &&
        tells(node.left));
    if (wrong) {
      const file = node.getSourceFile();
      const { line } = file.getLineAndCharacterOfPosition(node.getStart());
      found.push(`${relative(root, file.fileName)}:${line + 1} ${node.getText().slice(0, 80)}`);
    }
    ts.forEachChild(node, see);
  };
  for (const file of program.getSourceFiles())
    if (!file.isDeclarationFile && !file.fileName.includes("node_modules")) see(file);
  return found;
}

const config = ts.getParsedCommandLineOfConfigFile(
  join(root, "tsconfig.json"),
  {},
  {
    ...ts.sys,
    onUnRecoverableConfigFileDiagnostic: (fault) => {
      throw new Error(String(fault.messageText));
    },
  },
);
const program = ts.createProgram(config.fileNames, config.options);
const faults = ts.getPreEmitDiagnostics(program);
if (faults.length > 0)
  console.error(
    ts.formatDiagnostics(faults, {
      getCanonicalFileName: (name) => name,
      getCurrentDirectory: () => root,
      getNewLine: () => "\n",
    }),
  );
const texts = saidAsText(program);
for (const text of texts) console.error(`${text}: say it first`);
process.exit(faults.length + texts.length > 0 ? 1 : 0);
