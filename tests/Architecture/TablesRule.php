<?php

declare(strict_types=1);

namespace Ypomna\Tests\Architecture;

use Doctrine\DBAL\Connection;
use PhpParser\Node;
use PhpParser\Node\Arg;
use PhpParser\Node\Expr\MethodCall;
use PhpParser\Node\Identifier;
use PhpParser\Node\InterpolatedStringPart;
use PhpParser\Node\Scalar\InterpolatedString;
use PhpParser\Node\Scalar\String_;
use PHPStan\Analyser\Scope;
use PHPStan\Rules\IdentifierRuleError;
use PHPStan\Rules\Rule;
use PHPStan\Rules\RuleErrorBuilder;
use PHPStan\Type\ObjectType;

/**
 * A table is known to the room that owns it, and to no other: see {@see Layers::TABLES}. Looked at are statements in strings, whole
 * or put together, and the names that {@see Connection} is given for an insert, an update or a delete.
 *
 * @implements Rule<Node>
 */
final class TablesRule implements Rule
{
    private const NAMED = '~\b(?:FROM|JOIN|INTO|UPDATE|TABLE|TRUNCATE|'
        .'EXISTS)\s+`?([a-z_]+)`?(?:\s+(?:AS\s+)?[a-z]\w*)?((?:\s*,\s*`?[a-z_]+`?(?:\s+(?:AS\s+)?[a-z]\w*)?)*)~';
    private const SQL = '~\b(?:SELECT|INSERT|UPDATE|DELETE|REPLACE|FROM|JOIN|WHERE)\b~';
    private const WRITES = ['insert', 'update', 'delete'];

    public function getNodeType(): string
    {
        return Node::class;
    }

    public function processNode(Node $node, Scope $scope): array
    {
        $room = Layers::roomOf(($scope->getNamespace() ?? '').'\\');
        if (null === $room) {
            return [];
        }
        $names = match (true) {
            $node instanceof String_ => self::tables($node->value),
            $node instanceof InterpolatedString => self::tables(self::text($node)),
            $node instanceof MethodCall => self::written($node, $scope),
            default => [],
        };

        return array_values(array_filter(array_map(
            static fn (string $name): ?IdentifierRuleError => self::error($room, $name), array_unique($names),
        )));
    }

    /** What stands in a string for sure; a mark for what is put in. */
    private static function text(InterpolatedString $string): string
    {
        return implode(
            '?', array_map(static fn (Node $part): string => $part instanceof InterpolatedStringPart ? $part->value : '', $string->parts),
        );
    }

    /** @return list<string> names that stand where those of tables do, and those that can be nothing else */
    private static function tables(string $text): array
    {
        if (1 !== preg_match(self::SQL, $text)) {
            return [];
        }
        preg_match_all(self::NAMED, $text, $found);
        $names = $found[1];
        foreach ($found[2] as $more) {
            preg_match_all('~,\s*`?([a-z_]+)~', $more, $further);
            array_push($names, ...$further[1]);
        }
        preg_match_all('~(?<![.\w])[a-z]+_[a-z_]+(?![\w(])~', $text, $words);
        $unmistakable = array_filter(
            array_merge(...array_values(Layers::TABLES)), static fn (string $table): bool => str_contains($table, '_'),
        );

        return [...$names, ...array_values(array_intersect($words[0], $unmistakable))];
    }

    /** @return list<string> */
    private static function written(MethodCall $call, Scope $scope): array
    {
        $argument = $call->args[0] ?? null;
        $named = $call->name instanceof Identifier && \in_array($call->name->name, self::WRITES, true) && $argument instanceof Arg
            && $argument->value instanceof String_;

        return $named && (new ObjectType(Connection::class))->isSuperTypeOf($scope->getType($call->var))->yes()
            ? [$argument->value->value]
            : [];
    }

    private static function error(string $room, string $table): ?IdentifierRuleError
    {
        foreach (Layers::TABLES as $owner => $tables) {
            if ($owner !== $room && \in_array($table, $tables, true)) {
                return RuleErrorBuilder::message(\sprintf(
                    'The table %s belongs to the room %s; %s asks it by that room’s classes.', $table, $owner, $room,
                ))
                    ->identifier('ypomna.foreignTable')->build();
            }
        }

        return null;
    }
}
