import 'reflect-metadata';
import { IsIn, IsInt, IsNotEmpty, IsObject, IsString, Matches, MaxLength, Min } from 'class-validator';
import { PART_KINDS, type PartKind } from '#core/document/project.ts';

export class NameRequest {
  @IsString({ message: 'name should be text' })
  @IsNotEmpty({ message: 'name should not be empty' })
  @MaxLength(120, { message: 'name should have at most 120 characters' })
  name!: string;
}

export class SavePartRequest extends NameRequest {
  @IsInt({ message: 'revision should be the whole number of the revision this was made from' })
  @Min(1, { message: 'revision should be 1 or more' })
  revision!: number;

  @IsObject({ message: 'body should be the part’s document' })
  body!: Record<string, unknown>;
}

export class NewPartRequest extends NameRequest {
  @Matches(/^[A-Za-z0-9][A-Za-z0-9_-]{0,63}$/, {
    message: 'id should be letters, digits, - and _, at most 64 of them',
  })
  id!: string;

  @IsIn(PART_KINDS, { message: `kind should be one of ${PART_KINDS.join(', ')}` })
  kind!: PartKind;

  @IsObject({ message: 'body should be the part’s document' })
  body!: Record<string, unknown>;
}
