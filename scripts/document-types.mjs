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

/** The names of types that follow from values: from a shape, or from an index of parts. */
const computed = new Set(['DocumentOf', 'RehearsedParts']);

/**
 * Reads types that follow from values: `ts-json-schema-generator` reads types as they are written, while these are known to the
 * compiler only.
 */
export class DocumentTypes {
  constructor(program) {
    this.checker = program.getTypeChecker();
  }

  supportsNode(node) {
    if (ts.isTypeReferenceNode(node)) return computed.has(node.typeName.getText());
    return ts.isExpressionWithTypeArguments(node) && computed.has(node.expression.getText());
  }

  createType(node) {
    return this.typeOf(this.checker.getTypeAtLocation(node), node);
  }

  typeOf(type, node) {
    if (type.isUnion()) return this.unionOf(type, node);
    if (type.isStringLiteral() || type.isNumberLiteral()) return new LiteralType(type.value);
    if (type.flags & ts.TypeFlags.BooleanLiteral) return new LiteralType(this.checker.typeToString(type) === 'true');
    if (type.flags & ts.TypeFlags.String) return new StringType();
    if (type.flags & ts.TypeFlags.Number) return new NumberType();
    if (type.flags & ts.TypeFlags.Undefined) return new UndefinedType();
    if (type.flags & ts.TypeFlags.Null) return new NullType();
    if (type.flags & ts.TypeFlags.Unknown) return new UnknownType();
    if (this.checker.isArrayType(type)) return new ArrayType(this.typeOf(this.checker.getTypeArguments(type)[0], node));
    return this.objectOf(type, node);
  }

  unionOf(type, node) {
    const isFlag = (one) => (one.flags & ts.TypeFlags.BooleanLiteral) !== 0;
    const rest = type.types.filter((one) => !isFlag(one)).map((one) => this.typeOf(one, node));
    return new UnionType(type.types.some(isFlag) ? [...rest, new BooleanType()] : rest);
  }

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
