import 'reflect-metadata';
import {
  ArrayMaxSize,
  ArrayMinSize,
  IsArray,
  IsIn,
  IsInt,
  IsNotEmpty,
  IsObject,
  IsString,
  Matches,
  Max,
  MaxLength,
  Min,
  ValidateBy,
  ValidateIf,
} from 'class-validator';
import { MOST_NAME, nameProblem } from '#core/document/nameProblem.ts';
import { PART_ID, PART_KINDS, type PartKind } from '#core/document/project.ts';

/** What names of projects and parts keep to, wherever they come from. */
const IsName = (): PropertyDecorator =>
  ValidateBy({
    name: 'isName',
    validator: {
      // Other rules say of what is no text, or too long.
      validate: (value) =>
        typeof value !== 'string' || value.length > MOST_NAME || nameProblem(value) === null,
      defaultMessage: (given) => `name should ${nameProblem(String(given?.value))}`,
    },
  });

/** A field that may be left out; null is not left out. */
const MayBeLeftOut = (): PropertyDecorator => ValidateIf((_, value) => value !== undefined);

/** PostgreSQL's largest integer. */
const LARGEST_REVISION = 2_147_483_646;

export class NameRequest {
  static readonly fields: readonly string[] = ['name'];

  @IsString({ message: 'name should be text' })
  @IsNotEmpty({ message: 'name should not be empty' })
  @MaxLength(MOST_NAME, { message: `name should have at most ${MOST_NAME} characters` })
  @IsName()
  name!: string;
}

export class NewProjectRequest extends NameRequest {
  static override readonly fields = ['name', 'from'];

  /** The set of the playhouse that it begins from; one card on a stage where none is named. */
  @MayBeLeftOut()
  @IsString({ message: 'from should be the id of a set of the playhouse' })
  @MaxLength(64, { message: 'from should have at most 64 characters' })
  from?: string;
}

/** An id of the change itself: sent again, it is answered as it was and not done twice. */
class Deed extends NameRequest {
  @MayBeLeftOut()
  @Matches(/^[A-Za-z0-9-]{8,64}$/, { message: 'deed should be 8 to 64 letters, digits and -' })
  deed?: string;

  @IsObject({ message: 'body should be the part’s document' })
  body!: Record<string, unknown>;
}

export class SavePartRequest extends Deed {
  static override readonly fields = ['name', 'revision', 'body', 'deed'];

  @IsInt({ message: 'revision should be the whole number of the revision this was made from' })
  @Min(1, { message: 'revision should be 1 or more' })
  @Max(LARGEST_REVISION, { message: `revision should be ${LARGEST_REVISION} or less` })
  revision!: number;
}

/** Changes to several parts, done in their order, all or none. */
export class ChangesRequest {
  static readonly fields = ['deed', 'changes'];

  @Matches(/^[A-Za-z0-9-]{8,64}$/, { message: 'deed should be 8 to 64 letters, digits and -' })
  deed!: string;

  @IsArray({ message: 'changes should be a list' })
  @ArrayMinSize(1, { message: 'changes should have at least one' })
  @ArrayMaxSize(200, { message: 'changes should have at most 200' })
  @IsObject({ each: true, message: 'each of changes should be an object' })
  changes!: Record<string, unknown>[];
}

const PART_ID_RULE = {
  message: 'id should be letters, digits, - and _, at most 64 of them',
};

export class ChangedPart extends SavePartRequest {
  static override readonly fields = ['op', 'id', 'name', 'revision', 'body'];

  @Matches(PART_ID, PART_ID_RULE)
  id!: string;
}

export class DeletedPart {
  static readonly fields = ['op', 'id'];

  @Matches(PART_ID, PART_ID_RULE)
  id!: string;
}

export class NewPartRequest extends Deed {
  static override readonly fields = ['id', 'kind', 'name', 'body', 'deed'];

  @Matches(PART_ID, PART_ID_RULE)
  id!: string;

  @IsIn(PART_KINDS, { message: `kind should be one of ${PART_KINDS.join(', ')}` })
  kind!: PartKind;
}

export class AddedPart extends NewPartRequest {
  static override readonly fields = ['op', 'id', 'kind', 'name', 'body'];
}
