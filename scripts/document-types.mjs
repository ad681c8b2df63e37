import {
  ArrayType,
  BooleanType,
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
 * Reads types that follow from values: `ts-json-schema-generator` reads types as they are written, while these are known to the
 * compiler only.
 */
export class DocumentTypes {
  /** @param {ts.Program} program */
  constructor(program) {
    this.checker = program.getTypeChecker();
  }

  /** @param {ts.Node} node */
  supportsNode(node) {
    if (ts.isTypeReferenceNode(node)) return computed.has(node.typeName.getText());
    return ts.isExpressionWithTypeArguments(node) && computed.has(node.expression.getText());
  }

  /** @param {ts.Node} node */
  createType(node) {
    return this.typeOf(this.checker.getTypeAtLocation(node), node);
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
   */
  objectOf(type, node) {
    const properties = this.checker.getPropertiesOfType(type).map((property) => {
      const isOptional = (property.flags & ts.SymbolFlags.Optional) !== 0;
      const ofProperty = this.checker.getTypeOfSymbolAtLocation(property, node);
      const present = isOptional ? this.checker.getNonNullableType(ofProperty) : ofProperty;
      return new ObjectProperty(property.name, this.typeOf(present, node), !isOptional);
    });
    const others = this.checker.getIndexInfoOfType(type, ts.IndexKind.String);
    return new ObjectType(
      `document-${this.checker.typeToString(type, undefined, ts.TypeFormatFlags.NoTruncation)}`,
      [],
      properties,
      others ? this.typeOf(others.type, node) : true,
    );
  }
}
