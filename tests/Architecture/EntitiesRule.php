<?php

declare(strict_types=1);

namespace Ypomna\Tests\Architecture;

use PhpParser\Node;
use PhpParser\Node\Expr\ClassConstFetch;
use PhpParser\Node\Identifier;
use PhpParser\Node\Name;
use PHPStan\Analyser\Scope;
use PHPStan\Rules\Rule;
use PHPStan\Rules\RuleErrorBuilder;

/**
 * Rooms give their entities to others, but nobody else asks the object mapper for them: whoever needs one asks the room that owns it.
 *
 * @implements Rule<ClassConstFetch>
 */
final class EntitiesRule implements Rule
{
    public function getNodeType(): string
    {
        return ClassConstFetch::class;
    }

    public function processNode(Node $node, Scope $scope): array
    {
        $room = Layers::roomOf(($scope->getNamespace() ?? '').'\\');
        if (null === $room || !$node->class instanceof Name || !$node->name instanceof Identifier || 'class' !== $node->name->name) {
            return [];
        }
        $class = $scope->resolveName($node->class);
        $owner = str_contains($class, '\\Entity\\') ? Layers::roomOf($class) : null;
        if (null === $owner || $owner === $room) {
            return [];
        }

        return [RuleErrorBuilder::message(\sprintf('%s belongs to the room %s; %s asks it by that room’s classes.', $class, $owner, $room))
            ->identifier('ypomna.foreignEntity')->build()];
    }
}
