import {
  AnnotatedType,
  ArrayType,
  BooleanType,
  Context,
  DefinitionType,
  LiteralType,
  NullType,
  NumberType,
  ObjectProperty,
  ObjectType,
  StringType,
  UndefinedType,
  UnionType,
  UnknownType,
} from 'ts-json-schema-generator';
import ts from 'typescript';

/** @typedef {import('ts-json-schema-generator').BaseType} BaseType */

/** The names of types that follow from values: from a shape, or from an index of parts. */
const computed = new Set(['DocumentOf', 'RehearsedParts']);

/**
 * Whether a node gives the type that follows from a shape a name.
 * @param {ts.Node} node
 * @returns {node is ts.TypeAliasDeclaration}
 */
function isDocumentAlias(node) {
  return ts.isTypeAliasDeclaration(node) && /^(NonNullable<)?DocumentOf</.test(node.type.getText());
}

/**
 * Reads types that follow from values: `ts-json-schema-generator` reads types as they are written, while these are known to the
 * compiler only.
 */
export class DocumentTypes {
  /**
   * @param {ts.Program} program
   * @param {import('ts-json-schema-generator').ChainNodeParser} others reads what is written down
   */
  constructor(program, others) {
    this.checker = program.getTypeChecker();
    this.others = others;
    this.names = this.namesIn(program);
  }

  /**
   * The names of types that follow from a shape and what is said of their properties, by what they say: where one is a part of
   * another the compiler has lost both.
   * @param {ts.Program} program
   */
  namesIn(program) {
    const named = program.getSourceFiles().flatMap((file) => [...file.statements].filter(isDocumentAlias));
    return new Map(
      named.map((alias) => {
        const { text: name } = alias.name;
        return [this.written(this.checker.getTypeAtLocation(alias.name)), { name, comments: commentsOf(alias) }];
      }),
    );
  }

  /** @param {ts.Type} type */
  written(type) {
    return this.checker.typeToString(type, undefined, ts.TypeFormatFlags.NoTruncation | ts.TypeFormatFlags.InTypeAlias);
  }

  /** @param {ts.Node} node */
  supportsNode(node) {
    if (isDocumentAlias(node)) return true;
    if (ts.isTypeReferenceNode(node)) return computed.has(node.typeName.getText());
    return ts.isExpressionWithTypeArguments(node) && computed.has(node.expression.getText());
  }

  /** @param {ts.Node} node */
  createType(node) {
    return this.typeOf(this.checker.getTypeAtLocation(isDocumentAlias(node) ? node.name : node), node);
  }

  /**
   * @param {ts.Type} type
   * @param {ts.Node} node
   * @returns {BaseType}
   */
  typeOf(type, node) {
    if (type.isUnion()) return this.unionOf(type, node);
    if (type.isStringLiteral() || type.isNumberLiteral()) return new LiteralType(type.value);
    if (type.flags & ts.TypeFlags.BooleanLiteral) return new LiteralType(this.checker.typeToString(type) === 'true');
    if (type.flags & ts.TypeFlags.String) return new StringType();
    if (type.flags & ts.TypeFlags.Number) return new NumberType();
    if (type.flags & ts.TypeFlags.Undefined) return new UndefinedType();
    if (type.flags & ts.TypeFlags.Null) return new NullType();
    if (type.flags & ts.TypeFlags.Unknown) return new UnknownType(false);
    const item = this.checker.isArrayType(type)
      ? this.checker.getIndexTypeOfType(type, ts.IndexKind.Number)
      : undefined;
    if (item) return new ArrayType(this.typeOf(item, node));
    const named = this.names.get(this.written(type));
    if (named) return new DefinitionType(named.name, this.objectOf(type, node, named.comments));
    const [declaration] = type.symbol?.declarations ?? [];
    if (declaration && ts.isInterfaceDeclaration(declaration) && !declaration.typeParameters)
      return this.others.createType(declaration, new Context(declaration));
    return this.objectOf(type, node);
  }

  /**
   * @param {ts.UnionType} type
   * @param {ts.Node} node
   */
  unionOf(type, node) {
    const isFlag = (/** @type {ts.Type} */ one) => (one.flags & ts.TypeFlags.BooleanLiteral) !== 0;
    const rest = type.types.filter((one) => !isFlag(one)).map((one) => this.typeOf(one, node));
    return new UnionType(type.types.some(isFlag) ? [...rest, new BooleanType()] : rest);
  }

  /**
   * @param {ts.Type} type
   * @param {ts.Node} node
   * @param {ReadonlyMap<string, string>} [comments]
   */
  objectOf(type, node, comments) {
    const properties = this.checker.getPropertiesOfType(type).map((property) => {
      const isOptional = (property.flags & ts.SymbolFlags.Optional) !== 0;
      const ofProperty = this.checker.getTypeOfSymbolAtLocation(property, node);
      const present = isOptional ? this.checker.getNonNullableType(ofProperty) : ofProperty;
      return new ObjectProperty(
        property.name,
        described(this.typeOf(present, node), comments?.get(property.name)),
        !isOptional,
      );
    });
    const others = this.checker.getIndexInfoOfType(type, ts.IndexKind.String);
    return new ObjectType(
      `document-${this.written(type)}`,
      [],
      properties,
      others ? this.typeOf(others.type, node) : true,
    );
  }
}

/**
 * A type with what is said of the property that has it.
 * @param {BaseType} type
 * @param {string} [description]
 */
function described(type, description) {
  return description ? new AnnotatedType(type, { description }, false) : type;
}

/**
 * What is said of the properties of a shape, where the type that follows from it is declared beside it.
 * @param {ts.TypeAliasDeclaration} alias
 * @returns {ReadonlyMap<string, string>}
 */
function commentsOf(alias) {
  const shape = /typeof (\w+)/.exec(alias.type.getText())?.[1];
  const variables = [...alias.getSourceFile().statements]
    .filter(ts.isVariableStatement)
    .flatMap(({ declarationList }) => [...declarationList.declarations]);
  const made = variables.find(({ name }) => name.getText() === shape)?.initializer;
  const properties = made ? (firstObject(made)?.properties ?? []) : [];
  return new Map(properties.map((property) => [property.name?.getText() ?? '', commentOn(property)]));
}

/**
 * @param {ts.Node} node
 * @returns {ts.ObjectLiteralExpression | undefined}
 */
function firstObject(node) {
  return ts.isObjectLiteralExpression(node) ? node : ts.forEachChild(node, firstObject);
}

/** @param {ts.Node} node */
function commentOn(node) {
  const [comment] = ts.getJSDocCommentsAndTags(node).filter(ts.isJSDoc);
  return ts.getTextOfJSDocComment(comment?.comment) ?? '';
}
