<?php

declare(strict_types=1);

namespace Ypomna\Core\Html;

/**
 * Tables (HTML Living Standard, sections 13.2.6.4.9 to 13.2.6.4.15).
 *
 * @internal
 */
final class TableRules
{
    public static function inTable(Construction $at, Token $token): void
    {
        $name = $token->name;
        if (TokenKind::Doctype === $token->kind) {
            return;
        }
        if (TokenKind::Text === $token->kind) {
            $inTable = isset(['table' => 1, 'tbody' => 1, 'tfoot' => 1, 'thead' => 1, 'tr' => 1, 'template' => 1][$at->stack->top()->name]);
            $token = new Token(TokenKind::Text, '', str_replace("\0", '', $token->text));
            if ('' === $token->text) {
                return;
            }
            if ($inTable && \strlen($token->text) === strspn($token->text, Construction::SPACE)) {
                $at->planter->text($token->text);
            } else {
                self::fostered($at, $token);
            }

            return;
        }
        if (TokenKind::End === $token->kind) {
            if ('table' === $name) {
                self::endTable($at);
            } elseif ('template' === $name) {
                $at->endTemplate();
            } elseif (!isset(Kinds::IN_TABLE[$name]) && 'body' !== $name && 'html' !== $name) {
                self::fostered($at, $token);
            }

            return;
        }
        match (true) {
            'caption' === $name => self::startCaption($at, $token),
            'colgroup' === $name => self::startInTable($at, $token, Mode::InColumnGroup),
            'col' === $name => self::impliedInTable($at, 'colgroup', Mode::InColumnGroup, $token),
            'tbody' === $name, 'tfoot' === $name, 'thead' === $name => self::startInTable($at, $token, Mode::InTableBody),
            'td' === $name, 'th' === $name, 'tr' === $name => self::impliedInTable($at, 'tbody', Mode::InTableBody, $token),
            'table' === $name => self::tableInTable($at, $token),
            'style' === $name, 'script' === $name, 'template' === $name => $at->headElement($token),
            'input' === $name && 'hidden' === strtolower($token->attributes['type'] ?? '') => $at->planter->put($token),
            'form' === $name => self::formInTable($at, $token),
            default => self::fostered($at, $token),
        };
    }

    private static function fostered(Construction $at, Token $token): void
    {
        $at->planter->fostering = true;
        BodyRules::inBody($at, $token);
        $at->planter->fostering = false;
    }

    private static function endTable(Construction $at): bool
    {
        if (!$at->stack->has('table', Kinds::TABLE_SCOPE)) {
            return false;
        }
        $at->stack->popUntil(['table' => 1]);
        $at->resetMode();

        return true;
    }

    private static function tableInTable(Construction $at, Token $token): void
    {
        if (self::endTable($at)) {
            $at->process($token);
        }
    }

    private static function formInTable(Construction $at, Token $token): void
    {
        if (null === $at->form && null === $at->stack->lastPlace('template')) {
            $at->form = $at->planter->put($token);
        }
    }

    private static function startCaption(Construction $at, Token $token): void
    {
        $at->stack->backTo(Kinds::TABLE_SCOPE);
        $at->planter->mark();
        $at->planter->open($token);
        $at->mode = Mode::InCaption;
    }

    private static function startInTable(Construction $at, Token $token, Mode $mode): void
    {
        $at->stack->backTo(Kinds::TABLE_SCOPE);
        $at->planter->open($token);
        $at->mode = $mode;
    }

    private static function impliedInTable(Construction $at, string $name, Mode $mode, Token $token): void
    {
        self::startInTable($at, new Token(TokenKind::Start, $name), $mode);
        $at->process($token);
    }

    public static function inCaption(Construction $at, Token $token): void
    {
        $isTable = isset(Kinds::IN_TABLE[$token->name]);
        if (TokenKind::End === $token->kind && 'caption' === $token->name) {
            self::endCaption($at);
        } elseif ((TokenKind::Start === $token->kind && $isTable) || (TokenKind::End === $token->kind && 'table' === $token->name)) {
            if (self::endCaption($at)) {
                $at->process($token);
            }
        } elseif (TokenKind::End !== $token->kind || (!$isTable && 'body' !== $token->name && 'html' !== $token->name)) {
            BodyRules::inBody($at, $token);
        }
    }

    private static function endCaption(Construction $at): bool
    {
        if (!$at->stack->has('caption', Kinds::TABLE_SCOPE)) {
            return false;
        }
        $at->stack->closeImplied();
        $at->stack->popUntil(['caption' => 1]);
        $at->planter->clearToMarker();
        $at->mode = Mode::InTable;

        return true;
    }

    public static function inColumnGroup(Construction $at, Token $token): void
    {
        $token = $at->behindSpace($token);
        if (null === $token) {
            return;
        }
        if (TokenKind::Start === $token->kind && 'col' === $token->name) {
            $at->planter->put($token);
        } elseif ('template' === $token->name) {
            BeforeBodyRules::inHead($at, $token);
        } elseif (TokenKind::Doctype !== $token->kind && !(TokenKind::End === $token->kind && 'col' === $token->name)
            && $at->stack->top()->isHtml('colgroup')) {
            $at->stack->pop();
            $at->mode = Mode::InTable;
            if (TokenKind::End !== $token->kind || 'colgroup' !== $token->name) {
                $at->process($token);
            }
        }
    }

    public static function inTableBody(Construction $at, Token $token): void
    {
        $name = $token->name;
        $bodies = ['tbody' => 1, 'tfoot' => 1, 'thead' => 1];
        if (TokenKind::Start === $token->kind && ('tr' === $name || 'td' === $name || 'th' === $name)) {
            $at->stack->backTo($bodies + ['html' => 1, 'template' => 1]);
            $at->planter->open('tr' === $name ? $token : new Token(TokenKind::Start, 'tr'));
            $at->mode = Mode::InRow;
            if ('tr' !== $name) {
                $at->process($token);
            }
        } elseif (TokenKind::End === $token->kind && isset($bodies[$name])) {
            if ($at->stack->has($name, Kinds::TABLE_SCOPE)) {
                $at->stack->backTo($bodies + ['html' => 1, 'template' => 1]);
                $at->stack->pop();
                $at->mode = Mode::InTable;
            }
        } elseif ((TokenKind::Start === $token->kind && isset(Kinds::IN_TABLE[$name]))
            || (TokenKind::End === $token->kind && 'table' === $name)) {
            if ($at->stack->hasAny($bodies, Kinds::TABLE_SCOPE)) {
                $at->stack->backTo($bodies + ['html' => 1, 'template' => 1]);
                $at->stack->pop();
                $at->again(Mode::InTable, $token);
            }
        } elseif (TokenKind::End !== $token->kind || !isset((Kinds::IN_TABLE + ['body' => 1, 'html' => 1])[$name])) {
            self::inTable($at, $token);
        }
    }

    public static function inRow(Construction $at, Token $token): void
    {
        $name = $token->name;
        if (TokenKind::Start === $token->kind && ('td' === $name || 'th' === $name)) {
            $at->stack->backTo(['tr' => 1, 'html' => 1, 'template' => 1]);
            $at->planter->open($token);
            $at->mode = Mode::InCell;
            $at->planter->mark();
        } elseif (TokenKind::End === $token->kind && 'tr' === $name) {
            self::endRow($at);
        } elseif ((TokenKind::Start === $token->kind && isset(Kinds::IN_TABLE[$name]))
            || (TokenKind::End === $token->kind && 'table' === $name)) {
            if (self::endRow($at)) {
                $at->process($token);
            }
        } elseif (TokenKind::End === $token->kind && isset(['tbody' => 1, 'tfoot' => 1, 'thead' => 1][$name])) {
            if ($at->stack->has($name, Kinds::TABLE_SCOPE) && self::endRow($at)) {
                $at->process($token);
            }
        } elseif (TokenKind::End !== $token->kind || !isset((Kinds::IN_TABLE + ['body' => 1, 'html' => 1])[$name])) {
            self::inTable($at, $token);
        }
    }

    private static function endRow(Construction $at): bool
    {
        if (!$at->stack->has('tr', Kinds::TABLE_SCOPE)) {
            return false;
        }
        $at->stack->backTo(['tr' => 1, 'html' => 1, 'template' => 1]);
        $at->stack->pop();
        $at->mode = Mode::InTableBody;

        return true;
    }

    public static function inCell(Construction $at, Token $token): void
    {
        $name = $token->name;
        if (TokenKind::End === $token->kind && ('td' === $name || 'th' === $name)) {
            if ($at->stack->has($name, Kinds::TABLE_SCOPE)) {
                self::endCell($at);
            }
        } elseif (TokenKind::Start === $token->kind && isset(Kinds::IN_TABLE[$name])) {
            if ($at->stack->hasAny(['td' => 1, 'th' => 1], Kinds::TABLE_SCOPE)) {
                self::endCell($at);
                $at->process($token);
            }
        } elseif (TokenKind::End === $token->kind && isset(['table' => 1, 'tbody' => 1, 'tfoot' => 1, 'thead' => 1, 'tr' => 1][$name])) {
            if ($at->stack->has($name, Kinds::TABLE_SCOPE)) {
                self::endCell($at);
                $at->process($token);
            }
        } elseif (TokenKind::End !== $token->kind
            || !isset(['body' => 1, 'caption' => 1, 'col' => 1, 'colgroup' => 1, 'html' => 1][$name])) {
            BodyRules::inBody($at, $token);
        }
    }

    private static function endCell(Construction $at): void
    {
        $at->stack->closeImplied();
        $at->stack->popUntil(['td' => 1, 'th' => 1]);
        $at->planter->clearToMarker();
        $at->mode = Mode::InRow;
    }
}
