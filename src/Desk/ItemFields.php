<?php

declare(strict_types=1);

namespace Ypomna\App\Desk;

use Doctrine\ORM\EntityManagerInterface;
use Ypomna\App\Desk\Entity\Dossier;
use Ypomna\App\Desk\Entity\Item;
use Ypomna\App\Desk\Value\FieldDefinition;
use Ypomna\Core\Desk\FieldType;
use Ypomna\Core\Desk\InvalidValue;

/** Fields of items: what they hold, by what the dossiers say in which an item lies, and those in which these lie. */
final readonly class ItemFields
{
    private const LONGEST_NAME = 200;

    public function __construct(private EntityManagerInterface $entities, private Laying $laying)
    {
    }

    /** @return array<string, FieldDefinition> by name; an inner dossier's word counts before an outer one's */
    public function of(Item $item): array
    {
        $ids = array_keys($this->laying->of($item));

        return [] === $ids ? [] : $this->ofDossiers($this->entities->getRepository(Dossier::class)->findBy(['id' => $ids]));
    }

    /**
     * @param list<Dossier> $dossiers
     *
     * @return array<string, FieldDefinition>
     */
    public function ofDossiers(array $dossiers): array
    {
        $fields = [];
        foreach ($dossiers as $dossier) {
            for ($one = $dossier, $depth = 0; null !== $one && $depth < 100; $one = $one->parent, ++$depth) {
                foreach ($one->fields() as $field) {
                    $fields[$field->name] ??= $field;
                }
            }
        }

        return $fields;
    }

    /**
     * The fields of an item with some of them otherwise.
     *
     * @param array<string, mixed> $wish values by name; null takes one away
     *
     * @return array<string, mixed>
     *
     * @throws WrongValue
     */
    public function merged(Item $item, array $wish): array
    {
        $known = $this->of($item);
        $fields = $item->fields;
        foreach ($wish as $name => $value) {
            $name = (string) $name;
            $pointer = '/fields/'.strtr($name, ['~' => '~0', '/' => '~1']);
            if ('' === trim($name) || mb_strlen($name) > self::LONGEST_NAME) {
                throw new WrongValue($pointer, \sprintf('The name of a field has 1 to %d characters.', self::LONGEST_NAME));
            }
            if (null === $value) {
                unset($fields[$name]);
                continue;
            }
            $value = self::plain($value);
            $before = $fields[$name] ?? null;
            if (\is_array($value) && \is_array($before)) {
                // A part of it may be said alone (RFC 7396).
                $value = array_filter($value + $before, static fn (mixed $one): bool => null !== $one);
            }
            $field = $known[$name] ?? null;
            try {
                $fields[$name] = ($field->type ?? FieldType::of($value))->value($value, $field->choices ?? []);
            } catch (InvalidValue $e) {
                throw new WrongValue($pointer, $e->getMessage(), $e);
            }
        }
        if (\count($fields) > Item::MOST_FIELDS) {
            throw new WrongValue('/fields', \sprintf('At most %d fields are taken.', Item::MOST_FIELDS));
        }

        return $fields;
    }

    private static function plain(mixed $value): mixed
    {
        return $value instanceof \stdClass ? (array) $value : $value;
    }
}
