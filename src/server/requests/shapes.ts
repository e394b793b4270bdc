import 'reflect-metadata';
import { IsInt, IsNotEmpty, IsObject, IsString, MaxLength, Min } from 'class-validator';

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
